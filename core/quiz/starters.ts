import { blankDefinition, blankQuestion, type PointDefinition, type Question } from '#core/points/definition'
import { addedAction } from '#core/actions/edit'
import { firstMail, HELLO } from '#core/points/mails'
import type { Starter } from '#core/points/starters'
import type { InQuiz, Meaning, Quiz, Result } from '#core/quiz/shapes'

/** What a choice means before anybody says. */
export const blankMeaning = (): Meaning => ({ right: false, said: '', weights: [], picture: null })
/** What a question is in a quiz before anybody says. */
export const blankInQuiz = (more: Partial<InQuiz> = {}): InQuiz => ({
  points: 0,
  topic: null,
  said: '',
  as: 'list',
  bands: [],
  then: [],
  contact: false,
  ...more,
})
export const blankResult = (key: string, title: string, more: Partial<Result> = {}): Result => ({
  key,
  title,
  text: '',
  picture: null,
  from: 0,
  button: '',
  call: { kind: 'none' },
  ...more,
})

/** How a quiz is asked before anybody says. */
export function quizOf(kind: Quiz['kind'], results: Result[]): Quiz {
  return {
    kind,
    results,
    topics: [],
    partial: true,
    says: 'end',
    contact: 'before',
    skip: false,
    reason: 'Where may we send your result?',
    progress: true,
    back: true,
    single: true,
    shuffle: 'none',
    again: true,
    share: true,
    described: [],
  }
}
const contact = (key: string, kind: Question['kind'], label: string, more: Partial<Question> = {}): Question =>
  blankQuestion({ key, kind, label, quiz: blankInQuiz({ contact: true }), ...more })
const email = contact('email', 'email', 'E-mail address', { required: true, property: 'email' })
const firstName = contact('first_name', 'short_text', 'First name', { property: 'first_name' })

/** A question with one answer of several, each with what it speaks for, by outcome. */
const sorts = (key: string, label: string, choices: [text: string, weights: Record<string, number>][]): Question =>
  blankQuestion({
    key,
    kind: 'one_of',
    label,
    required: true,
    quiz: blankInQuiz(),
    choices: choices.map(([text, weights]) => ({
      value: text,
      text,
      quiz: { ...blankMeaning(), weights: Object.entries(weights).map(([to, n]) => ({ to, n })) },
    })),
  })
/** A question with one right answer, which stands first here. */
const asks = (key: string, label: string, said: string, texts: string[], right: number): Question =>
  blankQuestion({
    key,
    kind: 'one_of',
    label,
    required: true,
    quiz: blankInQuiz({ points: 1, said }),
    choices: texts.map((text, i) => ({ value: text, text, quiz: { ...blankMeaning(), right: i === right } })),
  })

/** With the mail that the words above the contact questions promise: the result, and what was answered. */
const quiz = (title: string, intro: string, questions: Question[], rules: Quiz): PointDefinition =>
  addedAction(
    { ...blankDefinition(title), intro, questions: [...questions, firstName, email], button: 'Show me the result', quiz: rules },
    'mail',
    {
      ...firstMail(false),
      subject: rules.kind === 'marks' ? '{{point.title}} {{quiz.points}} of {{quiz.possible}} points' : '{{point.title}} {{quiz.title}}',
      text: `${HELLO}\n\nthis is what you came to: **{{quiz.title}}**\n\n{{quiz.text}}\n\nAnd this is what you said:\n\n{{quiz.answers}}`,
    },
  )

/** A new quiz: two outcomes, one question between them, and the question whom the result goes to. */
export const blankQuiz = (title: string): PointDefinition =>
  quiz(
    title,
    '',
    [
      sorts('first', 'What matters most to you?', [
        ['One thing', { first: 1 }],
        ['Another', { second: 1 }],
      ]),
    ],
    quizOf('outcomes', [blankResult('first', 'The first outcome'), blankResult('second', 'The second outcome')]),
  )

/** The quizzes to begin with, one of each kind. */
export const QUIZ_STARTERS: Starter[] = [
  {
    key: 'sorting',
    name: 'Which one suits me?',
    what: 'Sorts people into outcomes',
    definition: quiz(
      'Which one suits you?',
      'Three questions, half a minute.',
      [
        sorts('for', 'Who is it for?', [
          ['Myself', { small: 2 }],
          ['A team', { middle: 2 }],
          ['Many people', { large: 2 }],
        ]),
        sorts('time', 'How much time do you have for it?', [
          ['An hour a week', { small: 1, middle: 1 }],
          ['A day a week', { middle: 1, large: 1 }],
          ['Somebody does it for us', { large: 2 }],
        ]),
        sorts('when', 'When should it be there?', [
          ['Soon', { small: 1 }],
          ['This year', { middle: 1 }],
          ['We are planning', { large: 1 }],
        ]),
      ],
      quizOf('outcomes', [
        blankResult('small', 'The small one', { text: 'Say here why it suits them, and what to do next.' }),
        blankResult('middle', 'The one in the middle', { text: 'Say here why it suits them, and what to do next.' }),
        blankResult('large', 'The large one', { text: 'Say here why it suits them, and what to do next.' }),
      ]),
    ),
  },
  {
    key: 'knowing',
    name: 'How much do you know?',
    what: 'Right answers, and marks',
    definition: quiz(
      'How much do you know?',
      'Three questions. You see at once what was right.',
      [
        asks('one', 'Your first question?', 'Say here why.', ['The right answer', 'One that sounds right', 'Another'], 0),
        asks('two', 'Your second question?', 'Say here why.', ['One that sounds right', 'The right answer', 'Another'], 1),
        asks('three', 'Your third question?', 'Say here why.', ['Another', 'One that sounds right', 'The right answer'], 2),
      ],
      quizOf('marks', [
        blankResult('begun', 'A beginning', { text: 'Say here where they can read on.' }),
        blankResult('well', 'You know your way', { from: 50, text: 'Say here what comes next.' }),
        blankResult('all', 'You could teach us', { from: 100, text: 'Say here what you offer to people like them.' }),
      ]),
    ),
  },
]
