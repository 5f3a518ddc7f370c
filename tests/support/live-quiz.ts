import type { PointDefinition } from '#core/points/definition'
import { demo, signedIn } from './house'

let made = 0
/** A live quiz of its own, made from a starter as a marketer makes it. */
export async function liveQuiz(starter: 'sorting' | 'knowing', change: (d: PointDefinition) => void = () => {}) {
  const as = await signedIn('tamsin')
  const name = `Quiz ${process.pid} ${++made}`
  const { id } = (await (await as('/api/team/points', 'POST', { kind: 'quiz', name, starter })).json()) as { id: string }
  const { workingCopy } = (await (await as(`/api/team/points/${id}`)).json()) as { workingCopy: PointDefinition }
  change(workingCopy)
  const saved = await as(`/api/team/points/${id}`, 'PUT', { revision: 1, name, definition: workingCopy })
  const { revision, errors } = (await saved.json()) as { revision: number; errors?: { field: string; message: string }[] }
  const published = saved.ok ? await as(`/api/team/points/${id}/publish`, 'POST', { revision }) : saved
  const body = saved.ok
    ? ((await published.json()) as { key: string; slug: string; errors?: { field: string; message: string }[] })
    : { key: '', slug: '', errors }
  return { as, id, status: published.status, errors: body.errors ?? [], key: body.key, slug: body.slug }
}
export const SORTED = { for: 'Many people', time: 'Somebody does it for us', when: 'We are planning' }
export type Came = { next: { kind: string; html: string } }

/** A quiz without a script: its page, and what posting its form brings. */
export async function plainPages(q: { key: string; slug: string }) {
  const page = await (await fetch(`${demo().url}/p/${q.slug}`)).text()
  const hiddenIn = (html: string) =>
    Object.fromEntries([...html.matchAll(/<input type="hidden" name="(_\w+)" value="([^"]*)"/g)].map(m => [m[1]!, m[2]!]))
  // Whoever is faster than anybody reads is taken for a machine.
  const hidden: Record<string, string> = { ...hiddenIn(page), _shown: String(Date.now() - 60_000) }
  const post = async (fields: Record<string, string>) => {
    const answer = await fetch(`${demo().url}/w/points/${q.key}/entries`, {
      method: 'POST',
      redirect: 'manual',
      headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' },
      body: new URLSearchParams({ ...hidden, ...fields }),
    })
    const html = await answer.text()
    return { status: answer.status, location: answer.headers.get('location'), html, hidden: hiddenIn(html) }
  }
  return { page, hidden, post }
}
/** The parts of a page that are not hidden, by the questions in them. */
export const partsShown = (html: string) =>
  [...html.matchAll(/<div class="cv-page"( hidden)?>(.*?)<\/div>(?=<div class="cv-page|<input|<div class="cv-unseen)/gs)]
    .filter(m => !m[1])
    .map(m => [...m[2]!.matchAll(/data-question="(\w+)"/g)].map(x => x[1]!))
