import { defineEventHandler, getQuery } from 'h3'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { problem } from '#server/problem'
import { readProof } from '#server/scoring/proof'
import { memberOf } from '#server/session'

const whole = (said: unknown, preset: number, most: number) => {
  const n = said === undefined ? preset : Number(said)
  return Number.isInteger(n) && n >= 0 && n <= most ? n : null
}

/** Whether scores told who would reach a goal: by band, by label, by rule, with their doubt. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { goal = 'won', days: saidDays, span: saidSpan } = getQuery(event)
  const ruleset = await applicationContext().cache.ruleset()
  const [days, span] = [whole(saidDays, 7, 365), whole(saidSpan, 365, 3650)]
  if (
    days === null ||
    span === null ||
    span === 0 ||
    typeof goal !== 'string' ||
    !(goal === 'won' || ruleset.statuses.some(s => s.key === goal))
  )
    throw problem(
      422,
      'Say which status is the goal (its key, or “won”), after how many days people are judged (0 to 365), and of how many days (1 to 3650).',
    )
  return readProof(longReadings(), ruleset, { goal, days, span }, Date.now())
})
