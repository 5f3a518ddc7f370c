import { randomUUID } from 'node:crypto'
import { demo } from './house'

const AGENT = 'Mozilla/5.0 (Linux; Android 14; Pixel) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Mobile Safari/537.36'
export const SITE = 'https://site.example'

/** A browser whose person agreed, as its script would speak for it. */
export function browser(url = demo().url) {
  const visitor = randomUUID()
  const visit = randomUUID()
  const post = (body: unknown, headers: Record<string, string> = {}) =>
    fetch(`${url}/w/trail`, {
      method: 'POST',
      headers: { 'user-agent': AGENT, 'content-type': 'text/plain', ...headers },
      body: typeof body === 'string' ? body : JSON.stringify(body),
    })
  const request = (events: object[], more: object = {}) => ({
    visitor,
    site: SITE,
    sent: Date.now(),
    language: 'en-GB',
    batches: [{ id: randomUUID(), visit, events: events.map(e => ({ at: Date.now(), path: '/', ...e })), ...more }],
  })
  let turn = 0
  return {
    visitor,
    visit,
    post,
    request,
    /** Types into a point (its key) or a form of the site's, and does not send it. */
    types: async (id: string, into: { point: string } | { form: string }, answers: object, more: object = {}) =>
      (
        await fetch(`${url}/w/unfinished`, {
          method: 'POST',
          headers: { 'user-agent': AGENT, 'content-type': 'text/plain' },
          body: JSON.stringify({
            id,
            visitor,
            ...into,
            answers,
            settled: Object.keys(answers),
            page: `${SITE}/contact?secret=1`,
            turn: ++turn,
            since: 1000,
            ...more,
          }),
        })
      ).status,
    /** Tells what was done. */
    did: async (events: object[], headers: Record<string, string> = {}, more: object = {}) =>
      (await post(request(events, more), headers)).status,
    reads: async (...paths: string[]) =>
      (await post(request(paths.map(path => ({ kind: 'page', path, title: `Title of ${path}` }))))).status,
  }
}
