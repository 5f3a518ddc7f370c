import { defineEventHandler } from 'h3'
import { theOffice } from '#server/capture/office'
import { memberOf } from '#server/session'

/** The words of the house and who works here, for lists to choose from. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { house, labels, statuses, properties, topics, members, scorecard, lists, segmentNames } = await theOffice().cache.standing()
  return { house, labels, statuses, properties, topics, lists, segments: segmentNames, members: [...members.values()], halfLifeDays: scorecard.halfLifeDays, thresholds: scorecard.labels }
})
