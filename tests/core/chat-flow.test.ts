import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { flowChecks, type FlowSurroundings } from '#core/chat/checks'
import { ofScript } from '#core/chat/read-script'
import { conditionInLine, conditionOfLine } from '#core/chat/condition-line'
import { BEGINNING, goOn, type Around, type Heard, type Place, type Turn } from '#core/chat/run'
import { readFlow, type Flow, type Step } from '#core/chat/shapes'
import { reachedFrom, waysOf } from '#core/chat/ways'
import { walks } from '#core/chat/walks'
import { inScript } from '#core/chat/write-script'

const SCRIPT = `hello: say Good morning. What brings you here?
  > I am planning something
    what: ask planning, read back: What is it to be?
      = school
        tag: do school_tag
    when: ask by
  > I have a question
    notes: look up: What would you like to know?
      otherwise
        go to person
    more: say Does that help?
      > Yes
        bye: end unrated: Come back any time.
      > No
        go to person
  > Only looking
    go to bye
mail: ask email
enough: branch
  if answer.by within_days 90
    person: hand over to plan: One of us is with you.
      otherwise
        sorry: say Nobody is here just now. We write to you.
done: do take in
`
const read = (script: string): Flow => {
  const { flow, flaws } = ofScript(script)
  expect(flaws).toEqual([])
  return flow!
}
const around = (more: Partial<Around> = {}): Around => ({
  attributes: () => undefined,
  known: () => undefined,
  read: (_, typed) =>
    String(typed).includes('?') ? { flaw: 'Please write that without a question mark.' } : { value: String(typed).trim() },
  ...more,
})
/** Talks a conversation through. */
function talk(flow: Flow, heard: Heard[], where = around()): { place: Place; turns: Turn[] } {
  let turn = goOn(flow, BEGINNING, null, where)
  const turns = [turn]
  for (const one of heard) turns.push((turn = goOn(flow, turn.place, one, where)))
  return { place: turn.place, turns }
}
const text = (typed: string): Heard => ({ kind: 'text', text: typed })
const choice = (n: number): Heard => ({ kind: 'choice', n })

/** Flows of all kinds of steps, which lead anywhere. */
const flows = fc.integer({ min: 1, max: 9 }).chain(n => {
  const key = fc.integer({ min: 0, max: n - 1 }).map(i => `s_${i}`)
  const to = fc.option(key, { nil: null, freq: 3 })
  const words = fc.string({ unit: 'grapheme', maxLength: 40 }).map(s => s.replaceAll('\r', ' ').trim())
  const more = words.filter(s => s.length > 0)
  const test = fc.oneof(
    fc.record({
      attribute: fc.constantFrom('answer.size', 'tag', 'quiz.points'),
      is: fc.constantFrom('equal', 'at_least'),
      value: fc.oneof(words, fc.integer()),
    }),
    fc.record({ attribute: fc.constant('answer.a'), is: fc.constant('filled') }),
  )
  const when = fc.oneof(
    test,
    fc.record({ none: fc.array(test, { maxLength: 2 }) }),
    fc.constant({ did: 'page', where: null, times: 2, days: 30 }),
  )
  const step = (key: string) =>
    fc.oneof(
      fc.record({
        key: fc.constant(key),
        kind: fc.constant('say'),
        text: words,
        picture: fc.constant(null),
        choices: fc.array(fc.record({ text: more, to }), { maxLength: 3 }),
        then: to,
      }),
      fc.record({
        key: fc.constant(key),
        kind: fc.constant('ask'),
        question: fc.constantFrom('size', 'email'),
        text: words,
        readBack: fc.boolean(),
        ways: fc.uniqueArray(fc.record({ value: more, to }), { maxLength: 3, selector: w => w.value }),
        then: to,
      }),
      fc.record({
        key: fc.constant(key),
        kind: fc.constant('do'),
        actions: fc.constantFrom([], ['tag'], ['tag', 'mail_2']),
        entry: fc.boolean(),
        then: to,
      }),
      fc.record({
        key: fc.constant(key),
        kind: fc.constant('branch'),
        ways: fc.array(fc.record({ when, to }), { maxLength: 3 }),
        then: to,
      }),
      fc.record({ key: fc.constant(key), kind: fc.constant('look_up'), text: words, then: to, otherwise: to }),
      fc.record({
        key: fc.constant(key),
        kind: fc.constant('meet'),
        text: words,
        minutes: fc.integer({ min: 10, max: 240 }),
        days: fc.integer({ min: 1, max: 60 }),
        then: to,
        otherwise: to,
      }),
      fc.record({
        key: fc.constant(key),
        kind: fc.constant('hand_over'),
        text: words,
        to: fc.constantFrom('plan', '01a225f3-3013-7000-8392-1806464d6a57'),
        otherwise: to,
      }),
      fc.record({ key: fc.constant(key), kind: fc.constant('end'), text: words, rating: fc.boolean() }),
    )
  return fc
    .tuple(...Array.from({ length: n }, (_, i) => step(`s_${i}`)))
    .chain(steps => fc.constantFrom('s_0', `s_${n - 1}`).map(start => ({ start, steps: steps as Step[] })))
})

describe('a script', () => {
  it('is the flow, and the flow is the script', () => {
    const flow = read(SCRIPT)
    expect(inScript(flow)).toBe(SCRIPT)
    expect(flow.steps.find(s => s.key === 'tag')).toMatchObject({ then: 'when' })
    expect(flow.steps.find(s => s.key === 'when')).toMatchObject({ then: 'mail' })
    expect(flow.steps.find(s => s.key === 'sorry')).toMatchObject({ then: 'done' })
  })
  it('gives back every flow, whatever leads where', () => {
    fc.assert(
      fc.property(flows, flow => {
        const { value } = readFlow(flow)
        const script = inScript(value!)
        const back = ofScript(script)
        expect(back.flaws).toEqual([])
        expect(back.flow).toEqual(value)
        expect(inScript(back.flow!)).toBe(script)
      }),
      { numRuns: 300 },
    )
  })
  it('says by lines what is wrong, and never throws', () => {
    const flaws = (script: string) => ofScript(script).flaws.map(f => [f.line, f.message])
    expect(flaws('shout Hello')).toEqual([[1, 'A step begins with say, ask, do, branch, look up, meet, hand over or end.']])
    expect(flaws('say Hello\ngo to nowhere')).toEqual([[2, 'No step is called “nowhere”.']])
    expect(flaws('a: say Hello\na: end')).toEqual([[2, 'Two steps are called “a”.']])
    expect(flaws('say Hello\n  = yes')).toEqual([[2, WHAT_UNDER_SAY]])
    expect(flaws('end\nsay Hello')).toEqual([[2, 'Nothing comes here: the line above leads away.']])
    expect(flaws('say Hello\n      > Yes')).toEqual([[2, 'This stands further in than anything it could belong to.']])
    expect(flaws('branch\n  if nonsense')[0]![0]).toBe(2)
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.constantFrom(
              'say',
              '  > a',
              '    end',
              'go to say_1',
              'rest',
              '---',
              'ask x',
              '  otherwise',
              'x: branch',
              '  if tag filled',
            ),
            fc.string(),
          ),
        ),
        lines => {
          const { flow, flaws: found } = ofScript(lines.join('\n'))
          expect(flow === null).toBe(found.length > 0)
        },
      ),
    )
  })
  it('keeps conditions on one line', () => {
    for (const c of [
      { attribute: 'answer.size', is: 'equal' as const, value: 'a "b"\n' },
      { attribute: 'tag', is: 'filled' as const },
      { all: [{ attribute: 'tag', is: 'one_of' as const, value: ['a', 'b'] }] },
    ])
      expect(conditionOfLine(conditionInLine(c))).toEqual({ condition: c })
    expect(conditionOfLine('no.such equal "x"')).toHaveProperty('flaw')
    expect(conditionOfLine('answer.a equal')).toHaveProperty('flaw')
  })
})
const WHAT_UNDER_SAY = 'Under what is said stand choices, each behind a “>”.'

describe('a conversation', () => {
  const flow = read(SCRIPT)
  it('asks one thing at a time, reads back what it heard, and does what stands on the way', () => {
    const { place, turns } = talk(flow, [
      choice(0),
      text('a school'),
      { kind: 'right', yes: false },
      text('school'),
      { kind: 'right', yes: true },
      text('2027?'),
      text('2027-03-01'),
      text('ida@merle.example'),
    ])
    expect(turns.map(t => t.lines.map(l => l.kind))).toEqual([
      ['text', 'choices'],
      ['question'],
      ['read_back'],
      ['question'],
      ['read_back'],
      ['question'],
      ['flaw'],
      ['question'],
      [],
    ])
    expect(place.answers).toEqual({ planning: 'school', by: '2027-03-01', email: 'ida@merle.example' })
    expect(turns.flatMap(t => t.deeds)).toEqual([
      { kind: 'do', step: 'tag', actions: ['school_tag'], entry: false },
      { kind: 'do', step: 'done', actions: [], entry: true },
    ])
    expect([place.at, place.way]).toEqual([null, ['hello', 'what', 'tag', 'when', 'mail', 'enough', 'done']])
  })
  it('takes words for a choice that says the same, and goes on with others', () => {
    expect(talk(flow, [text('only  LOOKING!')]).turns.at(-1)!.deeds).toEqual([{ kind: 'end', step: 'bye', rating: false }])
    expect(talk(flow, [text('something else')]).place).toMatchObject({ at: 'mail', waits: 'answer' })
  })
  it('does not ask what is known, but asks anew what was answered here', () => {
    const { place } = talk(flow, [text('else')], around({ known: q => (q === 'email' ? 'ida@merle.example' : undefined) }))
    expect([place.at, place.answers]).toEqual([null, { email: 'ida@merle.example' }])
  })
  it('branches by this conversation before what else is known', () => {
    const where = around({ attributes: name => (name === 'answer.by' ? '1999-01-01' : undefined) })
    const bySize = read('ask size\nbranch\n  if answer.size equal "large"\n    end\nsay Small.\n')
    expect(talk(bySize, [text('large')], where).place.way.at(-1)).toBe('end_1')
    expect(talk(bySize, [text('small')], where).place.way.at(-1)).toBe('say_1')
  })
  it('looks into the notes, asks what was meant, and goes to a person otherwise', () => {
    const asked = talk(flow, [choice(1), text('Do you build in winter?')])
    expect(asked.turns.at(-1)!.deeds).toEqual([{ kind: 'look_up', step: 'notes', words: 'Do you build in winter?' }])
    const then = (what: 'answered' | 'again' | 'nothing') => goOn(flow, asked.place, { kind: 'found', what }, around()).place
    expect([then('answered'), then('again'), then('nothing')].map(p => [p.at, p.waits])).toEqual([
      ['more', 'choice'],
      ['notes', 'words'],
      ['person', 'person'],
    ])
    const there = (there: boolean) => goOn(flow, then('nothing'), { kind: 'person', there }, around())
    expect([there(true).place.at, there(false).lines.map(l => l.kind)]).toEqual([null, ['text']])
  })
  it('stays where it is when something comes that it does not wait for, and ends by itself whatever leads where', () => {
    const heard = fc.oneof<fc.Arbitrary<Heard>[]>(
      fc.record({ kind: fc.constant('text' as const), text: fc.string() }),
      fc.record({ kind: fc.constant('choice' as const), n: fc.integer({ min: -1, max: 3 }) }),
      fc.record({ kind: fc.constant('right' as const), yes: fc.boolean() }),
      fc.record({ kind: fc.constant('found' as const), what: fc.constantFrom('answered' as const, 'again' as const, 'nothing' as const) }),
      fc.record({ kind: fc.constant('time' as const), taken: fc.boolean() }),
      fc.record({ kind: fc.constant('person' as const), there: fc.boolean() }),
    )
    fc.assert(
      fc.property(flows, fc.array(heard, { maxLength: 20 }), (f, all) => {
        const { place, turns } = talk(readFlow(f).value!, all)
        for (const [i, turn] of turns.entries()) {
          const { at } = turn.place
          expect(at === null || f.steps.some(s => s.key === at)).toBe(true)
          expect(at === null).toBe(turn.place.waits === 'nothing')
          const before = turns[i - 1]?.place
          if (at === before?.at && turn.place.waits === before.waits && turn.place.way.length === before.way.length)
            expect(turn.place.answers).toEqual(before.answers)
        }
        expect(place.way.every(key => reachedFrom(f, f.start).has(key))).toBe(true)
      }),
      { numRuns: 100 },
    )
  })
})

describe('checks of a flow', () => {
  const around: FlowSurroundings = {
    questions: [
      { key: 'planning', label: 'What is it to be?', choices: [{ value: 'school', text: 'A school' }] },
      { key: 'by', label: 'By when?', choices: [] },
      { key: 'email', label: 'Your address', choices: [] },
    ],
    actions: ['school_tag'],
    members: [],
    pools: [],
  }
  const found = (script: string, where = around) => flowChecks(read(script), where).map(c => [c.level, c.step, c.message])
  it('find nothing wrong with a whole one but where it rests', () => {
    expect(found(SCRIPT).filter(([level]) => level === 'stop')).toEqual([])
    expect(found(SCRIPT).map(([, step]) => step)).toEqual(['done'])
  })
  it('name the step that nothing leads to, that refers to nothing, that asks again, that turns in a circle', () => {
    expect(found('a: end\n---\nb: say Alone.\n')).toContainEqual(['hint', 'b', 'Nothing leads here.'])
    expect(found('a: ask gone\n')).toContainEqual(['stop', 'a', 'Its question is not there any more.'])
    expect(found('a: ask planning\n  = restaurant\n    rest\n')).toContainEqual([
      'stop',
      'a',
      '“What is it to be?” offers no “restaurant”.',
    ])
    expect(found('a: do gone\n')).toContainEqual(['stop', 'a', 'The action “gone” is not there any more.'])
    expect(found('a: hand over to 01a225f3-3013-7000-8392-1806464d6a57\n')).toContainEqual([
      'stop',
      'a',
      'It hands over to somebody who is not here any more.',
    ])
    expect(found('a: ask email\nb: ask by\nc: ask email\n')).toContainEqual([
      'hint',
      'c',
      '“Your address” was asked before on the way here.',
    ])
    expect(found('a: say One.\nb: say Two.\ngo to a\n').filter(c => c[0] === 'stop')).toEqual([
      ['stop', 'a', 'From here it comes round to here again without asking anything.'],
    ])
    expect(found('a: say One.\nb: ask by\ngo to a\n').filter(c => c[0] === 'stop')).toEqual([])
    const alone = 'From here no way leads to a person.'
    expect(found('a: ask by\nb: end\n')).toContainEqual(['hint', 'a', alone])
    // Who is done at an end was not left alone.
    expect(found('a: ask by\n  = b1\n    hand over to plan\nb: end\n').map(c => c[2])).not.toContain(alone)
    expect(flowChecks({ start: null, steps: [] }, around)).toEqual([
      { level: 'stop', step: null, message: 'The conversation has no first step.' },
    ])
    expect(
      flowChecks({ start: 'a', steps: [{ key: 'a', kind: 'do', actions: [], entry: true, then: 'gone' }] }, around).map(c => c.message),
    ).toContain('It leads to “gone”, which is not there any more.')
  })
})

describe('made-up visitors', () => {
  it('take every way of every step that can be reached, and only such', () => {
    fc.assert(
      fc.property(flows, flow => {
        const { all, shortest, longest, usual } = walks(flow, () => 0.4)
        const taken = new Set(all.flatMap(w => w.steps.map(s => `${s.key} ${s.by}`)))
        for (const key of reachedFrom(flow, flow.start))
          for (const way of waysOf(flow.steps.find(s => s.key === key)!)) expect(taken.has(`${key} ${way.by}`)).toBe(true)
        for (const { steps } of [...all, usual!])
          for (const [i, s] of steps.slice(0, -1).entries())
            expect(waysOf(flow.steps.find(x => x.key === s.key)!).find(w => w.by === s.by)!.to).toBe(steps[i + 1]!.key)
        expect(shortest!.steps.length).toBeLessThanOrEqual(longest!.steps.length)
        expect(all.every(w => w.steps[0]!.key === flow.start)).toBe(true)
      }),
      { numRuns: 100 },
    )
  })
})
