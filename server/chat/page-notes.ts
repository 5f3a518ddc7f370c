import { request as plain } from 'node:http'
import { request as secure } from 'node:https'
import domino from '@mixmark-io/domino'
import Turndown from 'turndown'
import { tables } from 'turndown-plugin-gfm'
import { notesIn, type NoteText } from '#core/chat/notes-in'
import { flawInAddress, isInside, outside } from '#server/outside'
import { problem } from '#server/problem'

const PATIENCE_MS = 10_000
const MOST_BYTES = 2_000_000
const MOST_REDIRECTS = 3
const wrong = (message: string) => problem(422, message, [{ field: 'address', message }])

/** What stands on every page of a site and says nothing of its own. */
const AROUND = 'script,style,noscript,template,nav,header,footer,aside,form,iframe,svg,img,video,audio,button,[hidden],[aria-hidden=true]'

/**
 * The notes that a page of the web makes: its own text as Markdown, a note a heading.
 * @throws 422 when the address leads inside a network, or to no page
 */
export async function notesOfPage(address: string): Promise<NoteText[]> {
  const html = await fetchPage(address)
  const notes = notesIn(...asMarkdown(html, address))
  if (!notes.length) throw wrong('There is no text of its own on this page.')
  return notes
}

/** A page as Markdown, and what it calls itself. */
export function asMarkdown(html: string, address: string): [markdown: string, name: string] {
  const document = domino.createDocument(html)
  const name = document.querySelector('h1')?.textContent?.trim() || document.title.trim() || address
  const whole = document.querySelector('main') ?? document.querySelector('article') ?? document.body
  for (const element of [...whole.querySelectorAll(AROUND)]) element.remove()
  for (const link of [...whole.querySelectorAll('a[href]')]) {
    const href = link.getAttribute('href')!
    if (URL.canParse(href, address)) link.setAttribute('href', new URL(href, address).href)
  }
  return [new Turndown({ headingStyle: 'atx', bulletListMarker: '-' }).use(tables).turndown(whole as never), name]
}

async function fetchPage(address: string): Promise<string> {
  let at = address
  for (let n = 0; n <= MOST_REDIRECTS; n++) {
    const flaw = flawInAddress(at)
    if (flaw) throw wrong(flaw)
    const { status, place, type, text } = await get(new URL(at))
    if (status >= 300 && status < 400 && place) at = new URL(place, at).href
    else if (status !== 200) throw wrong(`The page answers with ${status}. Look whether the address is right.`)
    else if (!/^text\/html\b/i.test(type)) throw wrong('There is no page of the web at this address.')
    else return text
  }
  throw wrong('The address leads from one to another and to no page.')
}

function get(url: URL): Promise<{ status: number; place: string | undefined; type: string; text: string }> {
  return new Promise((done, failed) => {
    const no = (why: string) => failed(wrong(`The page could not be fetched: ${why}.`))
    const asked = (url.protocol === 'https:' ? secure : plain)(
      url,
      {
        timeout: PATIENCE_MS,
        headers: { accept: 'text/html', 'user-agent': 'Cavlin' },
        signal: AbortSignal.timeout(2 * PATIENCE_MS),
        ...(!isInside(url) && { lookup: outside }),
      },
      answer => {
        const chunks: Buffer[] = []
        let size = 0
        answer.on('data', (chunk: Buffer) => {
          size += chunk.length
          if (size > MOST_BYTES) asked.destroy(new Error(`it is larger than ${MOST_BYTES / 1e6} MB`))
          else chunks.push(chunk)
        })
        answer.on('error', (error: Error) => no(error.message))
        answer.on('end', () =>
          done({
            status: answer.statusCode ?? 0,
            place: answer.headers.location,
            type: answer.headers['content-type'] ?? '',
            text: Buffer.concat(chunks).toString(),
          }),
        )
      },
    )
    asked.on('timeout', () => asked.destroy(new Error(`no answer within ${PATIENCE_MS / 1000} s`)))
    asked.on('error', (error: Error) => no(error.message))
    asked.end()
  })
}
