import { answerText, type Answers, type Question } from '#core/points/definition'

/** An answer beside its question, both in the words that the visitor saw, or would have seen. */
export interface Said {
  key: string
  label: string
  text: string
}

/**
 * What an entry says, in the order of its questions. What was answered without being asked is left out where it fills a property, among
 * which it stands; it is there where it would stand nowhere else.
 * An entry keeps its answers once, and whoever tells of them asks here for the words.
 */
export const answersInWords = (questions: Question[], answers: Answers): Said[] =>
  questions.flatMap(q => {
    const answer = answers[q.key]
    return answer === undefined || (q.hidden && q.property !== null) ? [] : [{ key: q.key, label: q.label, text: answerText(q, answer) }]
  })

/** What an entry says beside what it agrees to, which stands in the timeline word by word. */
export const answersToNotify = (questions: Question[], answers: Answers): Said[] =>
  answersInWords(
    questions.filter(q => q.kind !== 'consent'),
    answers,
  )
