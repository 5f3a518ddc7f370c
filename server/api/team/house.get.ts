import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { memberOf } from '#server/session'

/** The words of the house and who works here, for lists to choose from. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const {
    house,
    labels,
    joinedLabels,
    statuses,
    joinedStatuses,
    properties,
    topics,
    members,
    scorecard,
    plan,
    lists,
    segmentNames,
    texts,
  } = await cache.ruleset()
  const {
    sums: [on = []],
  } = await readFigures(sql, house.zone, [{ figure: 'list' }], async () => {})
  const counted = lists.map(l => ({ ...l, leads: on.find(s => s.key[0] === l.id)?.n ?? 0 }))
  const lanes = plan.lanes.map(({ key, name, pool }) => ({ key, name, people: pool.length }))
  return {
    house,
    labels,
    joinedLabels,
    statuses,
    joinedStatuses,
    properties,
    topics,
    lists: counted,
    segments: segmentNames,
    lanes,
    members: [...members.values()].map(({ id, email, name, role }) => ({ id, email, name, role })),
    halfLifeDays: scorecard.halfLifeDays,
    thresholds: scorecard.labels,
    texts,
  }
})
