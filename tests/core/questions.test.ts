import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checksOf } from '#core/points/checks'
import { blankDefinition, blankQuestion, QUESTION_KINDS, type PointDefinition } from '#core/points/definition'
import { fillIn } from '#core/points/mails'
import { addQuestion, asKind, behindWhich, moveQuestion, nameQuestions, removeQuestion, renameQuestion } from '#core/points/questions'
import { readDefinition } from '#core/points/shapes/definition'
import { PROPERTY_KINDS } from '#core/properties/kinds'

const around = { properties: [], labels: [], topics: [], members: [], lists: [] }
const mail = {
  key: 'm',
  kind: 'mail' as const,
  days: 0,
  subject: 'About {{answer.question}}',
  text: 'You said {{{ answer.question }}}{{#answer.question}}, indeed{{/answer.question}}. {{answer.question_2}}',
  goal: null,
  unlessClicked: false,
  when: null,
}
/** A form in which everything that can name a question names one that was just added. */
function everywhere(): PointDefinition {
  const { definition: d, key } = addQuestion(blankDefinition('Visit'), 'short_text', 'email')
  const { definition, key: second } = addQuestion(d, 'short_text', key)
  expect([key, second]).toEqual(['question', 'question_2'])
  const said = { attribute: 'answer.question', is: 'filled' as const }
  return {
    ...definition,
    questions: definition.questions.map(q =>
      q.key === 'question_2' ? { ...q, shownIf: { all: [said, { none: [{ attribute: 'answer.email', is: 'empty' as const }] }] } } : q,
    ),
    actions: [
      mail,
      {
        key: 't',
        kind: 'tell',
        members: [],
        when: { any: [said, { did: 'entry', where: said, times: 1, days: null }] },
        subject: '{{answer.question}}',
        text: 'x',
      },
    ] as never,
    next: { kind: 'address', address: 'https://larkmoss.example/?q={{answer.question}}' },
    confirm: { subject: 'Was it you?', text: '{{answer.question}} {{link}}', done: 'Done', then: { kind: 'message' } },
    reminder: { hours: 2, subject: 'Go on', text: '{{& answer.question}}' },
    variants: [{ key: 'b', title: 'T', intro: '{{answer.question}}', button: 'Send', invitation: '', open: '' }],
  }
}

describe('a question that was just added', () => {
  it('gets its key with its text, and all that names it follows', () => {
    const d = everywhere()
    d.questions[1]!.label = 'How large is it?'
    const { definition, renamed } = nameQuestions(d, new Set(['email']))
    expect([...renamed]).toEqual([['question', 'how_large_is_it']])
    const text = JSON.stringify(definition)
    // What somebody did elsewhere is another form's answer.
    expect(text.match(/answer\.question\b(?!_2)/g)).toHaveLength(1)
    expect(definition.actions[1]).toMatchObject({
      when: { any: [{ attribute: 'answer.how_large_is_it' }, { did: 'entry', where: { attribute: 'answer.question' } }] },
    })
    expect(text).toContain('{{answer.question_2}}')
    expect(definition.next).toEqual({ kind: 'address', address: 'https://larkmoss.example/?q={{answer.how_large_is_it}}' })
    const written = definition.actions[0] as typeof mail
    expect(fillIn(written.text, { answer: { how_large_is_it: '40 m', question_2: 'Yes' } } as never)).toBe('You said 40 m, indeed. Yes')
  })
  it('keeps its key once an edition has it, or once it has said something', () => {
    const d = everywhere()
    for (const q of d.questions) q.label ||= 'Said'
    expect(nameQuestions(d, new Set(['question', 'question_2'])).definition).toEqual(d)
    const { definition } = nameQuestions(d, new Set())
    for (const q of definition.questions) q.label = 'Said otherwise'
    expect(nameQuestions(definition, new Set()).renamed.size).toBe(0)
  })
  it('never gets the key of another, also not of one that only the live edition has', () => {
    const d = everywhere()
    for (const q of d.questions.slice(1)) q.label = 'Size'
    expect([...nameQuestions(d, new Set(['size', 'email'])).renamed.values()]).toEqual(['size_2', 'size_3'])
  })
})

describe('where a new question goes', () => {
  const part = (...kinds: ('email' | 'consent')[]) => kinds.map((kind, i) => ({ key: `${kind}${i}`, kind }))
  it.each([
    ['email1', part('email', 'email', 'consent', 'consent')],
    ['email2', part('consent', 'email', 'email')],
    ['consent1', part('consent', 'consent')],
    [null, []],
  ])('is behind %s', (key, questions) => expect(behindWhich(questions)).toBe(key))
})

describe('a key that changes', () => {
  const KEYS = ['a', 'b', 'question', 'question_2', 'size']
  const test = fc.constantFrom(...KEYS).map(key => ({ attribute: `answer.${key}`, is: 'filled' as const }))
  const made = fc
    .record({
      conditions: fc.array(fc.option(test, { nil: null }), { minLength: 5, maxLength: 5 }),
      named: fc.array(fc.constantFrom(...KEYS), { maxLength: 6 }),
    })
    .map(({ conditions, named }): PointDefinition => ({
      ...blankDefinition('D'),
      questions: KEYS.map((key, i) => blankQuestion({ key, kind: 'short_text', label: key, shownIf: conditions[i]! })),
      actions: [{ ...mail, subject: 's', text: named.map(key => `{{answer.${key}}}`).join(' ') }] as never,
    }))
  it('comes back whole when it is changed back, and changes nothing else', () => {
    fc.assert(
      fc.property(made, fc.constantFrom(...KEYS), (d, key) => {
        const there = renameQuestion(d, key, 'another')
        expect(renameQuestion(there, 'another', key)).toEqual(d)
        expect(JSON.stringify(there).replaceAll('answer.another', `answer.${key}`).replaceAll('"key":"another"', `"key":"${key}"`)).toBe(
          JSON.stringify(d),
        )
        expect(readDefinition(there).flaws).toEqual([])
      }),
    )
  })
})

describe('questions', () => {
  it('are moved within bounds, and lose nobody', () => {
    const d = everywhere()
    fc.assert(
      fc.property(fc.constantFrom('email', 'question', 'question_2', 'nobody'), fc.integer({ min: -9, max: 9 }), (key, by) => {
        const order = moveQuestion(d, key, by).questions.map(q => q.key)
        expect([...order].sort()).toEqual(['email', 'question', 'question_2'])
        const at = d.questions.findIndex(q => q.key === key)
        if (at >= 0) expect(order.indexOf(key)).toBe(Math.min(2, Math.max(0, at + by)))
      }),
    )
  })
  it('leave a word behind when they are taken out while something names them', () => {
    const d = removeQuestion(everywhere(), 'question')
    d.questions[1]!.label = 'Two'
    const said = checksOf(d, around)
      .filter(c => c.level === 'stop')
      .map(c => c.message)
      .join(' ')
    expect(said).toContain('“Two” is shown by the answer to a question that was taken out.')
    expect(said).toContain('“answer.question”, which stands for nothing')
  })
  it('of any kind can become any other, and can be kept', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...QUESTION_KINDS),
        fc.constantFrom(...QUESTION_KINDS),
        fc.option(fc.constantFrom(...PROPERTY_KINDS), { nil: null }),
        (one, other, property) => {
          const q = asKind(
            asKind(blankQuestion({ key: 'q', kind: 'short_text', property: property && 'p' }), one, property),
            other,
            property,
          )
          expect(readDefinition({ ...blankDefinition('D'), questions: [q] }).flaws).toEqual([])
          expect([q.kind, q.choices.length]).toEqual([other, other === 'one_of' || other === 'some_of' ? 2 : 0])
        },
      ),
    )
  })
})
