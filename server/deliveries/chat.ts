import { lookup as resolve } from 'node:dns'
import { request as plain, type RequestOptions } from 'node:http'
import { request as secure } from 'node:https'
import type { LookupFunction } from 'node:net'
import ipaddr from 'ipaddr.js'
import type { Failure } from '#core/deliveries/delivery'
import type { InHand } from '#db/deliveries'
import { setting } from '#server/settings'

const PATIENCE_MS = 10_000
const MOST_ANSWER = 300

/** It could not be handed over, and how. */
export class ChatFailed extends Error {
  constructor(message: string, readonly failure: Failure) {
    super(message)
  }
}

/** Hosts inside that may be written to all the same, with their port: what stands beside us in a demo. */
const isInside = (url: URL): boolean => setting('CAVLIN_CHAT_INSIDE').includes(url.host)

/** What is wrong with the address of a chat; null where nothing is. Whether its host lies inside is looked at when it is written to. */
export function flawInChat(address: string): string | null {
  let url: URL
  try {
    url = new URL(address)
  } catch {
    return 'This is no address. It begins with https://.'
  }
  if (isInside(url)) return null
  if (url.protocol !== 'https:') return 'The address begins with https://.'
  if (url.username || url.password) return 'An address with a name and a password in it is not taken.'
  const host = url.hostname.replace(/^\[|\]$/g, '')
  return ipaddr.isValid(host) && ipaddr.process(host).range() !== 'unicast' ? 'This address lies inside a network. Give one that everybody can reach.' : null
}

/** Resolves names to addresses that everybody can reach, and to no others: whoever may name a host must not reach what stands beside us. */
const outside: LookupFunction = (host, options, done) => {
  resolve(host, { ...options, all: true }, (error, found) => {
    if (error) return done(error, '', 4)
    const open = found.filter(({ address }) => ipaddr.process(address).range() === 'unicast')
    if (!open.length) return done(new Error('The name leads inside a network.') as NodeJS.ErrnoException, '', 4)
    if (options.all) return (done as unknown as (e: null, all: typeof open) => void)(null, open)
    done(null, open[0]!.address, open[0]!.family)
  })
}

/** What is told, as chats take it: JSON with one text. */
export function chatText(d: Pick<InHand, 'subject' | 'body' | 'leadId'>, appUrl: string): string {
  return JSON.stringify({ text: [d.subject, d.body, d.leadId ? `${appUrl}/follow-up/leads/${d.leadId}` : ''].filter(Boolean).join('\n') })
}

/**
 * Hands a message over to a chat. Redirections are not followed.
 * @returns the status it answered with
 * @throws ChatFailed 4xx but 408 and 429 refuse this one for good; all else may be tried again
 */
export function postToChat(address: string | null, body: string, id: string): Promise<string> {
  const flaw = address === null ? 'They have no chat any more.' : flawInChat(address)
  if (flaw) return Promise.reject(new ChatFailed(flaw, 'refused'))
  const url = new URL(address!)
  const options: RequestOptions = {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body), 'idempotency-key': id, 'user-agent': 'Cavlin' },
    timeout: PATIENCE_MS,
    ...(!isInside(url) && { lookup: outside }),
  }
  return new Promise((done, failed) => {
    const sent = (url.protocol === 'https:' ? secure : plain)(url, options, answer => {
      let said = ''
      answer.setEncoding('utf8')
      answer.on('data', (part: string) => {
        said = (said + part).slice(0, MOST_ANSWER)
      })
      answer.on('end', () => {
        const status = answer.statusCode ?? 0
        if (status >= 200 && status < 300) return done(`${status}`)
        const again = status >= 500 || status === 408 || status === 429
        failed(new ChatFailed(`${status} ${said.replace(/\s+/g, ' ').trim()}`.trim(), again ? 'later' : 'refused'))
      })
    })
    const unreachable = (error: Error) => failed(new ChatFailed(error.message || 'No answer', 'unreachable'))
    sent.on('timeout', () => sent.destroy(new Error(`No answer within ${PATIENCE_MS / 1000} s`)))
    sent.on('error', unreachable)
    sent.end(body)
  })
}
