import { defineEventHandler, getQuery } from 'h3'
import { check } from '#core/validate'
import { applicationContext } from '#server/application-context'
import { longReadings, tableReadings } from '#server/database'
import { problem } from '#server/problem'
import { everAsked, entriesOf, GroupBody, ofAll, pointToRead, readResults } from '#server/results/read'
import { answersSheet, figuresSheet, respondentsSheet, stopsSheet } from '#server/results/take-away'
import { memberOf } from '#server/session'
import { formatOf, sendSheets } from '#server/take-away/send'
import { idFrom, parseJson } from '#server/wire'

/**
 * Results to take away: `as` csv (who answered) or xlsx (the figures, too), of some days (`from`, `to`), an `edition`, a
 * `condition` in JSON. What is sensitive stays here.
 */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { as, condition, edition, ...days } = getQuery(event)
  const format = formatOf(as)
  const group = check(GroupBody, {
    ...days,
    ...(edition !== undefined && { edition: Number(edition) }),
    ...(typeof condition === 'string' && { condition: parseJson(condition) }),
  })
  if (!group.value) throw problem(422, 'The query cannot be read; see the list.', group.flaws)
  const { sql, cache } = applicationContext()
  const point = await pointToRead(sql, idFrom(event))
  const ruleset = await cache.ruleset()
  const of = entriesOf(point, group.value, ruleset)
  const questions = ofAll((await everAsked(sql, point)).questions, ruleset)
  const results = await readResults(of.condition ? longReadings() : sql, of, questions)
  const respondents = respondentsSheet(tableReadings(), of, questions, ruleset)
  return await sendSheets(event, format, point.name, [figuresSheet(results), stopsSheet(results), answersSheet(results), respondents])
})
