import { defineEventHandler, getQuery } from 'h3'
import { TIMELINE_KINDS, wordsOf, type TimelineFilter } from '#core/timeline'
import { leadById } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { timelineFor } from '#server/follow-up/timeline'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

const PIECE = 200
/** So many lines are given at once, and so many are looked through for them. */
const [GIVEN, LOOKED] = [60, 4000]

/**
 * More of a lead's timeline: `?before=MOMENT`, `?what=` one of its kinds, `?search=` words that all stand in a line.
 * @returns the lines, newest first, and the moment from which to go on; null at the end
 */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const id = idFrom(event)
  const { before, what, search } = getQuery(event)
  const from = before === undefined ? null : new Date(String(before))
  if (from && Number.isNaN(from.getTime())) throw problem(400, 'Say a moment: `?before=2027-03-01T09:00:00Z`.')
  if (what !== undefined && !Object.hasOwn(TIMELINE_KINDS, String(what)))
    throw problem(400, `There are these: ${Object.keys(TIMELINE_KINDS).join(', ')}.`)
  if (!(await leadById(sql, id))) throw problem(404, 'There is no such lead.')
  const kinds = what === undefined ? null : new Set<string>(TIMELINE_KINDS[String(what) as TimelineFilter].kinds)
  const words = String(search ?? '')
    .toLowerCase()
    .slice(0, 200)
    .split(/\s+/)
    .filter(Boolean)
  const ruleset = await cache.ruleset()
  const found: Awaited<ReturnType<typeof timelineFor>> = []
  let at = from
  for (let looked = 0; looked < LOOKED; looked += PIECE) {
    const lines = await timelineFor(sql, ruleset, id, at, PIECE)
    found.push(...lines.filter(line => (!kinds || kinds.has(line.kind)) && words.every(word => wordsOf(line).includes(word))))
    if (lines.length < PIECE) return { lines: found.slice(0, GIVEN), next: found.length > GIVEN ? found[GIVEN - 1]!.at : null }
    at = new Date(lines.at(-1)!.at)
    if (found.length >= GIVEN) return { lines: found.slice(0, GIVEN), next: found[Math.min(found.length, GIVEN) - 1]!.at }
  }
  return { lines: found.slice(0, GIVEN), next: at?.toISOString() ?? null }
})
