import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'

/** The words of the house and who works here, for lists to choose from. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { house, labels, statuses, properties, topics, members, scorecard, lists, segmentNames } = await applicationContext().cache.ruleset()
  return { house, labels, statuses, properties, topics, lists, segments: segmentNames, members: [...members.values()], halfLifeDays: scorecard.halfLifeDays, thresholds: scorecard.labels }
})
