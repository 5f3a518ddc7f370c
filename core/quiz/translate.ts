import type { PointDefinition } from '#core/points/shapes/definition'
import type { Question } from '#core/points/shapes/question'
import type { Meaning, Quiz } from '#core/quiz/shapes'

/** What visitors read of a quiz beside its questions, by paths that stay when something is moved. */
export function textsOfQuiz({ quiz, questions }: PointDefinition): { path: string; called: string; text: string; long?: boolean }[] {
  if (!quiz) return []
  return [
    { path: 'quiz.reason', called: 'Above the questions who it is', text: quiz.reason },
    ...questions.flatMap(q => [
      { path: `questions.${q.key}.said`, called: 'Said of the question with the result', text: q.quiz?.said ?? '' },
      ...q.choices.map(c => ({
        path: `questions.${q.key}.choices.${c.value}.said`,
        called: 'Said to who chose it',
        text: c.quiz?.said ?? '',
      })),
    ]),
    ...quiz.topics.map(t => ({ path: `quiz.topics.${t.key}`, called: 'Topic', text: t.name })),
    ...quiz.results.flatMap(r => [
      { path: `quiz.results.${r.key}.title`, called: 'Title of the result', text: r.title },
      { path: `quiz.results.${r.key}.text`, called: 'Text of the result', text: r.text, long: true },
      { path: `quiz.results.${r.key}.button`, called: 'Button of the result', text: r.button },
    ]),
  ]
}

type Say = (path: string, text: string) => string

/** A quiz in other words. */
export const quizInTongue = (quiz: Quiz, say: Say): Quiz => ({
  ...quiz,
  reason: say('quiz.reason', quiz.reason),
  topics: quiz.topics.map(t => ({ ...t, name: say(`quiz.topics.${t.key}`, t.name) })),
  results: quiz.results.map(r => {
    const at = `quiz.results.${r.key}`
    return { ...r, title: say(`${at}.title`, r.title), text: say(`${at}.text`, r.text), button: say(`${at}.button`, r.button) }
  }),
})
/** What is said of a question of a quiz, and of its choices, in other words. */
export function questionInTongue(q: Question, say: Say): Question {
  const at = `questions.${q.key}`
  const said = (path: string, meaning: Meaning): Meaning => ({ ...meaning, said: say(`${path}.said`, meaning.said) })
  return {
    ...q,
    quiz: q.quiz && { ...q.quiz, said: say(`${at}.said`, q.quiz.said) },
    choices: q.choices.map(c => (c.quiz ? { ...c, quiz: said(`${at}.choices.${c.value}`, c.quiz) } : c)),
  }
}
