import { setImmediate } from 'node:timers/promises'
import { defineEventHandler } from 'h3'
import { readCondition, some, type Condition } from '#core/conditions/condition'
import { MOST_RULES } from '#core/learning/learn'
import { scorerOf, type LearnedRule } from '#core/learning/score-rows'
import { requireKey } from '#server/api-keys'
import { problem } from '#server/problem'
import { isRow, MOST_ROW_BYTES, readRows } from '#server/scoring/learn-ask'
import { mediaType, parseJson, readText } from '#server/wire'

const wrong = (field: string, message: string) => problem(422, 'Some fields are wrong; see the list.', [{ field, message }])
const MOST_NAME = 200
const AT_ONCE = 2000

function readRule(value: unknown, i: number): LearnedRule {
  if (!isRow(value)) throw wrong(`rules.${i}`, 'A rule is an object with when and points.')
  const { when, points } = value
  if (typeof points !== 'number' || !Number.isFinite(points) || Math.abs(points) > 1e6)
    throw wrong(`rules.${i}.points`, 'Points are a number.')
  let condition: Condition
  try {
    condition = readCondition(when, 'when', (attribute, did) => did === null && attribute.length > 0 && attribute.length <= MOST_NAME)
  } catch (error) {
    throw wrong(`rules.${i}.when`, (error as Error).message)
  }
  // Rows did nothing: they have columns.
  if (some(condition, test => 'did' in test))
    throw wrong(`rules.${i}.when`, 'A rule over rows asks for columns, not for what somebody did.')
  return { when: condition, points }
}

/** What rules give each row. */
export default defineEventHandler(async event => {
  await requireKey(event, 'scorecards:learn')
  if (mediaType(event) !== 'application/json') throw problem(415, 'Send JSON, with the content type application/json.')
  const body = parseJson(await readText(event, MOST_ROW_BYTES))
  if (!isRow(body) || !Array.isArray(body.rules)) throw wrong('rules', 'Send a list of rules, each with when and points.')
  if (body.rules.length > MOST_RULES * 4) throw wrong('rules', `Send at most ${MOST_RULES * 4} rules.`)
  const rules = body.rules.map(readRule)
  const rows = readRows(body.rows)
  const score = scorerOf(rules)
  const scores: number[] = []
  for (const row of rows) {
    // Others are answered meanwhile.
    if (scores.length % AT_ONCE === AT_ONCE - 1) await setImmediate()
    scores.push(score(row))
  }
  return { scores }
})
