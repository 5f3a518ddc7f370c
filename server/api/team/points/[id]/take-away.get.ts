import { defineEventHandler, getQuery } from 'h3'
import { check } from '#core/validate'
import { applicationContext } from '#server/application-context'
import { longReadings, tableReadings } from '#server/database'
import { problem } from '#server/problem'
import { everAsked, entriesOf, GroupBody, ofAll, pointToRead, readResults } from '#server/results/read'
import { answersSheet, figuresSheet, GROUPS, respondentsSheet, stopsSheet } from '#server/results/take-away'
import { memberOf } from '#server/session'
import { formatOf, sendSheets } from '#server/take-away/send'
import { idFrom, parseJson } from '#server/wire'

/**
 * Results to take away: `as` csv (who answered) or xlsx (the figures, too), of some days (`from`, `to`), an `edition`, a
 * `condition` in JSON; of a second group, in JSON as a whole, where `second` says one. What is sensitive stays here.
 */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { as, condition, edition, second, ...days } = getQuery(event)
  const format = formatOf(as)
  const asked = [
    {
      ...days,
      ...(edition !== undefined && { edition: Number(edition) }),
      ...(typeof condition === 'string' && { condition: parseJson(condition) }),
    },
    ...(typeof second === 'string' ? [parseJson(second)] : []),
  ].map(group => check(GroupBody, group))
  const { sql, cache } = applicationContext()
  const point = await pointToRead(sql, idFrom(event))
  const ruleset = await cache.ruleset()
  const groups = asked.map(({ value, flaws }) => {
    if (!value) throw problem(422, 'The query cannot be read; see the list.', flaws)
    return entriesOf(point, value, ruleset)
  })
  const questions = ofAll((await everAsked(sql, point)).questions, ruleset)
  const counted = await Promise.all(groups.map(of => readResults(of.condition ? longReadings() : sql, of, questions)))
  const figures = counted.flatMap((results, i) => {
    const group = groups.length > 1 ? `, ${GROUPS[i]}` : ''
    return [figuresSheet(results, group), stopsSheet(results, group), answersSheet(results, group)]
  })
  const respondents = respondentsSheet(tableReadings(), groups, questions, ruleset)
  return await sendSheets(event, format, point.name, [figures[0]!, ...figures.slice(1), respondents])
})
