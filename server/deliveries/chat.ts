import { request as plain, type RequestOptions } from 'node:http'
import { request as secure } from 'node:https'
import type { Failure } from '#core/deliveries/delivery'
import type { InHand } from '#db/deliveries'
import { flawInAddress, isInside, outside } from '#server/outside'

const PATIENCE_MS = 10_000
const MOST_ANSWER = 300

/** It could not be handed over, and how. */
export class ChatFailed extends Error {
  constructor(
    message: string,
    readonly failure: Failure,
  ) {
    super(message)
  }
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
  const flaw = address === null ? 'They have no chat any more.' : flawInAddress(address)
  if (flaw) return Promise.reject(new ChatFailed(flaw, 'refused'))
  const url = new URL(address!)
  const options: RequestOptions = {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      'content-length': Buffer.byteLength(body),
      'idempotency-key': id,
      'user-agent': 'Cavlin',
    },
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
