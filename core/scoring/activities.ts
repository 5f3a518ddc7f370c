import { answerAttributes } from '#core/points/shown'
import type { Answers } from '#core/points/answer'
import { quizAttributes } from '#core/quiz/attributes'
import type { Judged } from '#core/quiz/judge'
import type { Activity } from '#core/scoring/score'

// What people do, as a scorecard judges it. `at` in milliseconds since 1970.

/** An entry: the point it came by, its answers, and what a quiz made of them. */
export function entryActivity(at: number, point: { key: string; name: string }, answers: Answers, judged: Judged | null): Activity {
  const [answered, made] = [answerAttributes(answers), quizAttributes(judged)]
  return { kind: 'entry', at, note: point.name, attributes: name => (name === 'point' ? point.key : (answered(name) ?? made(name))) }
}

/** A link of a mail was followed. */
export const clickedActivity = (at: number, subject: string): Activity => ({
  kind: 'clicked',
  at,
  note: subject,
  attributes: name => (name === 'mail.subject' ? subject : undefined),
})
