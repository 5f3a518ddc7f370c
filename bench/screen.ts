import { readFileSync } from 'node:fs'
import { chromium, type Page } from '@playwright/test'
import { demoFile, type House } from '../scripts/house'
import { CHROMIUM } from '../scripts/chromium'
import { quantile } from './load'

const ENTRIES = 60

interface Watch {
  seen: Record<string, number>
}

/** From the answer 201 to the change on the owner's open screen. */
export async function benchScreen(house: House): Promise<void> {
  const demo = JSON.parse(readFileSync(demoFile(house.place.data), 'utf8')) as {
    url: string
    members: { email: string; password: string }[]
  }
  const browser = await chromium.launch({ ...CHROMIUM })
  try {
    // Schools go to these two in turn.
    const pages = await Promise.all(
      ['mireille', 'desmond'].map(async who => {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
        const { email, password } = demo.members.find(m => m.email.startsWith(who))!
        await page.context().request.post(`${demo.url}/api/session`, { data: { email, password } })
        await page.goto(demo.url)
        await page.locator('.list h1').waitFor()
        await watch(page)
        return page
      }),
    )
    await measure(demo.url, pages, '')
    const end = await openStreams(demo)
    await measure(demo.url, pages, `, with ${STREAMS} screens' streams open beside`)
    end()
  } finally {
    await browser.close()
  }
}

let round = 0
async function measure(url: string, pages: Page[], beside: string): Promise<void> {
  round++
  const answered = new Map<string, number>()
  for (let n = 0; n < ENTRIES; n++) {
    const name = `Screen${process.pid}x${round}x${n}x`
    const answer = await fetch(`${url}/w/points/form_visit/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        answers: { email: `${name}@bench.example`, first_name: name, last_name: 'Seen', sector: 'school', size: 'large' },
      }),
    })
    if (answer.status !== 201) throw new Error(`${answer.status}`)
    answered.set(name, Date.now())
    await new Promise(r => setTimeout(r, 250 + ((n * 37) % 200)))
  }
  await new Promise(r => setTimeout(r, 2000))
  const seen = Object.assign(
    {},
    ...(await Promise.all(pages.map(p => p.evaluate(() => (window as unknown as { watch: Watch }).watch.seen)))),
  ) as Record<string, number>
  const times = [...answered].map(([name, at]) => (seen[name] === undefined ? Infinity : Math.max(0, seen[name]! - at)))
  console.log(
    `  ${times.filter(Number.isFinite).length} of ${ENTRIES} seen; median ${quantile(times, 0.5)} ms, slowest ${Math.max(...times)} ms`,
  )
  console.log(`SCREEN    95% within ${quantile(times, 0.95)} ms of the answer${beside} (aim: 250 ms)`)
}

const STREAMS = 200
/** Streams of as many screens, each of which hears of every lead. @returns ends them */
async function openStreams({ url, members }: { url: string; members: { email: string; password: string }[] }): Promise<() => void> {
  const { email, password } = members.find(m => m.email.startsWith('jonah'))!
  const signedIn = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  const cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!
  const all = new AbortController()
  await Promise.all(
    Array.from({ length: STREAMS }, async () => {
      const stream = await fetch(`${url}/api/team/live?leads=*`, { headers: { cookie }, signal: all.signal })
      void (async () => {
        for await (const _ of stream.body as unknown as AsyncIterable<Uint8Array>);
      })().catch(() => {})
    }),
  )
  return () => all.abort()
}

/** Notes when a name first stands in the list. A text, so that no build step's helpers stray into the page. */
const watch = (page: Page) =>
  page.evaluate(`
  window.watch = { seen: {} }
  const list = document.querySelector('.list')
  new MutationObserver(() => {
    for (const [name] of list.textContent.matchAll(/Screen\\d+x\\d+x\\d+x/g)) window.watch.seen[name] ??= Date.now()
  }).observe(list, { childList: true, subtree: true, characterData: true })
`)
