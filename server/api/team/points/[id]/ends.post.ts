import { defineEventHandler } from 'h3'
import { ANYBODY, endsOf } from '#core/results/ends'
import type { EndsView } from '#core/team'
import { endsByAnswer } from '#db/results'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { entriesOf, everAsked, GroupBody, ofAll, pointToRead } from '#server/results/read'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

/** Questions whose answers can be told apart and counted. */
const CHOSEN = ['one_of', 'some_of', 'yes_no']

/** Which answers go with becoming qualified, or with being won. */
export default defineEventHandler(async (event): Promise<EndsView> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const group = await readChecked(event, GroupBody)
  const point = await pointToRead(sql, idFrom(event))
  const ruleset = await cache.ruleset()
  const questions = ofAll((await everAsked(sql, point)).questions, ruleset).filter(q => CHOSEN.includes(q.kind))
  const keys = questions.map(q => q.key)
  const sums = await endsByAnswer(longReadings(), entriesOf(point, group, ruleset), keys)
  const all = sums.filter(s => s.value === ANYBODY)
  // JSON knows no infinity; where too few were counted the range says nothing.
  const rows = endsOf(questions, sums).map(r => ({
    ...r,
    toQualified: r.toQualified.tooFew ? null : r.toQualified,
    toWon: r.toWon.tooFew ? null : r.toWon,
  }))
  return {
    rows,
    people: Math.max(0, ...all.map(s => s.people)),
    qualified: Math.max(0, ...all.map(s => s.qualified)),
    won: Math.max(0, ...all.map(s => s.won)),
  }
})
