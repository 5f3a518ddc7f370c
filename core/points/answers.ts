import { fileValue, MOST_FILES, type SentFile } from '#core/files/kinds'
import type { Flaw } from '#core/flaws'
import type { Say } from '#core/languages/say'
import { LIMITS, type Answer, type Answers, type Question } from '#core/points/definition'
import { holds } from '#core/conditions/condition'
import { along } from '#core/quiz/way'
import { readValue, type Reading } from '#core/points/values'
import type { PropertyValue } from '#core/properties/kinds'

/** Answers that were read: as typed, and as properties keep them. Both only for questions that were asked. */
export interface ReadAnswers {
  answers: Answers
  values: Record<string, PropertyValue>
  flaws: Flaw[]
}

/**
 * Checks answers against the questions of an edition. Answers come back exactly as typed;
 * ones that were left empty are taken out, and so are those to questions that a condition
 * did not show, which nobody can be blamed for. What the marketer fixed is put in.
 * @param questions in the order in which they are asked
 * @param given an untrusted value, `{ questionKey: value }`
 * @param files what came along for file questions, looked into already, by question key
 */
export function readAnswers(questions: Question[], given: unknown, reading: Reading, files: Record<string, SentFile[]> = {}): ReadAnswers {
  const read: ReadAnswers = { answers: {}, values: {}, flaws: [] }
  if (typeof given !== 'object' || given === null || Array.isArray(given))
    return { ...read, flaws: [{ field: 'answers', message: 'Send the answers as an object: question key and value.' }] }
  for (const key of Object.keys(given)) {
    if (!questions.some(q => q.key === key))
      read.flaws.push({ field: `answers.${key.slice(0, 100)}`, message: 'This form has no such question.' })
    if (read.flaws.length >= 20) return read
  }
  const way = along(read.answers, holds)
  for (const question of questions) {
    if (!way.isAsked(question)) continue
    const answer = answerTo(question, given as Record<string, unknown>)
    const flaw =
      question.kind === 'file'
        ? takeFiles(question, answer, files[question.key] ?? [], read, reading.say)
        : take(question, answer, read, reading)
    if (flaw) read.flaws.push({ field: `answers.${question.key}`, message: flaw })
    way.answered(question)
  }
  return read
}

function answerTo(q: Question, given: Record<string, unknown>): unknown {
  if (q.hidden?.from === 'fixed') return q.hidden.value
  const own = Object.hasOwn(given, q.key) ? given[q.key] : undefined
  return own === undefined && q.hidden ? q.hidden.value : own
}

function take(q: Question, answer: unknown, read: ReadAnswers, reading: Reading): string | null {
  const empty =
    answer === undefined ||
    answer === null ||
    answer === '' ||
    (typeof answer === 'string' && !answer.trim()) ||
    (Array.isArray(answer) && !answer.length)
  if (empty) {
    if (q.required && !q.hidden) return q.error || missing(q, reading.say)
    // Blanks are an answer that says nothing, and come back all the same.
    if (typeof answer === 'string' && answer && answer.length <= LIMITS.answer) read.answers[q.key] = answer
    return null
  }
  const several = Array.isArray(answer)
  if (!(
    typeof answer === 'string' ||
    (several && q.kind === 'some_of' && answer.length <= LIMITS.choices && answer.every(a => typeof a === 'string'))
  ))
    return q.kind === 'some_of' ? 'The answer must be a list of texts.' : 'The answer must be a text.'
  if (!several && (answer as string).length > LIMITS.answer) return reading.say('tooLong', { n: LIMITS.answer })
  const result = readValue(q, answer as Answer, reading)
  if ('flaw' in result) {
    // What a page gave along and does not fit is nobody's mistake who could mend it.
    if (q.hidden) return null
    return q.error || result.flaw
  }
  read.answers[q.key] = answer as Answer
  read.values[q.key] = result.value
  return null
}

/** Files are an answer only when they came themselves; their names are what was typed. */
function takeFiles(q: Question, said: unknown, files: SentFile[], read: ReadAnswers, say: Say): string | null {
  if (!files.length && said !== undefined && said !== null && said !== '') return 'Send the file itself, as multipart/form-data.'
  if (!files.length) return q.required ? q.error || missing(q, say) : null
  const least = Number(q.limits.least ?? 1)
  if (files.length < least) return q.error || say('leastFiles', { n: least })
  read.answers[q.key] = files.map(f => f.name)
  read.values[q.key] = files.map(fileValue)
  return null
}

/** How many files a question takes. */
export const mostFiles = (q: Pick<Question, 'limits'>): number => Math.min(MOST_FILES, Number(q.limits.most ?? 1))

function missing({ kind }: Question, say: Say): string {
  if (kind === 'one_of' || kind === 'yes_no') return say('chooseOne')
  if (kind === 'some_of') return say('chooseSome')
  if (kind === 'consent') return say('tick')
  if (kind === 'file') return say('chooseFile')
  return say(kind === 'email' ? 'fillEmail' : 'fillThis')
}
