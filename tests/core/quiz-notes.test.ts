import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blankDefinition, blankQuestion, publicPoint, type PointDefinition, type Question } from '#core/points/definition'
import { quizTexts, resultText } from '#core/points/mails'
import { judgeQuiz } from '#core/quiz/judge'
import { resultMarkup, saidMarkup, sharedMarkup } from '#core/quiz/markup'
import { wayInWords } from '#core/quiz/notes'
import { allowsNameless } from '#core/quiz/way'
import { inQuiz, meaning, quizOf, quizzes, result } from '../support/quizzes'

const choice = (value: string, text: string, right = false, said = '') => ({ value, text, quiz: meaning({ right, said }) })
const one = (key: string, label: string, more: Partial<Question> = {}): Question =>
  blankQuestion({ key, kind: 'one_of', label, choices: [choice('a', 'This'), choice('b', 'That')], quiz: inQuiz(), ...more })
const email = blankQuestion({ key: 'email', kind: 'email', label: 'Address', property: 'email', quiz: inQuiz({ contact: true }) })
const definition = (questions: Question[], quiz: PointDefinition['quiz']): PointDefinition => ({
  ...blankDefinition('How much?'),
  questions,
  quiz,
})

describe('the way through a quiz in words', () => {
  it('says what is asked of some only, and where branches lead', () => {
    const questions = [
      one('first', 'First?', {
        quiz: inQuiz({
          then: [
            { when: { attribute: 'answer.first', is: 'equal', value: 'b' }, to: 'third' },
            { when: null, to: '' },
          ],
        }),
      }),
      one('second', 'Second?'),
      one('third', 'Third?', { shownIf: { attribute: 'answer.first', is: 'equal', value: 'a' } }),
      email,
    ]
    const way = wayInWords(questions, quizOf('outcomes', [result('x')], { contact: 'before' }))
    expect(way.map(w => [w.key, w.isAside, ...w.notes])).toEqual([
      ['first', false, 'goes on with “Third?” if “First?” is That', 'goes on with who they are'],
      ['second', true],
      ['third', true, 'asked if “First?” is This'],
      ['email', false],
    ])
  })
  it('has each question once, in the order in which it is asked, whatever the quiz', () => {
    fc.assert(
      fc.property(quizzes(6), ({ quiz, questions }) => {
        expect(
          wayInWords(questions, quiz)
            .map(w => w.key)
            .sort(),
        ).toEqual(questions.map(q => q.key).sort())
      }),
    )
  })
})

describe('what is said of a quiz', () => {
  const quiz = quizOf(
    'marks',
    [
      result('low'),
      {
        ...result('high', 50),
        text: 'Dear {{lead.first_name}}{{^lead.first_name}}you{{/lead.first_name}}: **{{quiz.points}}** of {{quiz.possible}}.\n\n<i>{{answer.word}}</i>',
      },
    ],
    { says: 'each', share: true },
  )
  const questions = [
    one('q', 'Which?', {
      choices: [choice('a', 'This', true, 'Well <seen>.'), choice('b', 'That')],
      quiz: inQuiz({ points: 2, said: 'So it is.' }),
    }),
    blankQuestion({ key: 'word', kind: 'short_text', label: 'A word?', quiz: inQuiz() }),
    blankQuestion({ key: 'name', kind: 'short_text', label: 'First name', property: 'first_name', quiz: inQuiz({ contact: true }) }),
    email,
  ]
  const d = definition(questions, quiz)
  const answers = { q: 'a', word: '*x* [y](https://z.example)', name: 'Ida' }
  const judged = judgeQuiz(quiz, questions, answers)
  it('fills what stands in its text, and lets nobody write into the page by an answer', () => {
    const html = resultMarkup(d, judged, answers, { share: '/s', again: '/a' })
    expect(html).toContain('Dear Ida: <strong>2</strong> of 2.')
    expect(html).toContain('&lt;i&gt;*x*')
    expect(html).not.toMatch(/<i>|<em>x|<a href="https:\/\/z/)
    expect(quizTexts(d, { judged, answers, language: 'en' }).text).toContain('Dear Ida: **2** of 2.')
    expect(resultText(d, 'Not {{closed', { judged, answers })).toBe('Not {{closed')
    // Who is shown it learns nothing of whose it was.
    expect(sharedMarkup(d, quiz.results[1]!, '/take')).not.toMatch(/Ida|2 of 2/)
  })
  it('is said of an answer, right or wrong, with the words of the team', () => {
    expect(saidMarkup(d, questions[0]!, 'a')).toBe('<p>That is right.</p><p>Well &#60;seen&#62;.</p><p>So it is.</p>')
    expect(saidMarkup(d, questions[0]!, 'b')).toBe('<p>Right would have been: This</p><p>So it is.</p>')
    expect(saidMarkup(d, questions[1]!, 'x')).toBe('')
    const shown = publicPoint('k', 1, d)
    expect(shown.questions.map(q => [q.key, q.says ?? false])).toEqual([
      ['q', true],
      ['word', false],
      ['name', false],
      ['email', false],
    ])
    expect(shown.quiz).toMatchObject({ noBack: true, each: true })
  })
  it('lets people stay nameless only where something asks who they are, and need not be answered', () => {
    const of = (more: object, all = questions) => allowsNameless(definition(all, { ...quiz, ...more }))
    expect([of({}), of({ skip: true }), of({ contact: 'after' }), of({ skip: true }, questions.slice(0, 2))]).toEqual([
      false,
      true,
      true,
      false,
    ])
  })
})
