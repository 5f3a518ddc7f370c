import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { connected, withoutStep, withStep } from '#core/chat/edit'
import { asMessage, filled } from '#core/chat/lines'
import { STEP_KINDS } from '#core/chat/limits'
import { takesIn } from '#core/chat/point-checks'
import { blankChat, CHAT_STARTERS } from '#core/chat/starters'
import { takenIn } from '#core/chat/taken'
import { reachedFrom, stepsOf, waysOf } from '#core/chat/ways'
import { checksOf } from '#core/points/checks'
import { readDefinition } from '#core/points/shapes/definition'
import { inTongue, translatable, translate, addLanguage } from '#core/points/translations'

const flow = CHAT_STARTERS[0]!.definition.chat!.flow
const around = {
  properties: [{ key: 'email', kind: 'email' as const, label: 'Email', sensitivity: 'personal' as never, retired: false }],
  labels: [],
  members: [],
}

describe('a flow that is edited', () => {
  it('has no way that leads nowhere after any steps were put in and taken out', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...STEP_KINDS), fc.nat(), fc.boolean()), { maxLength: 30 }), moves => {
        let now = flow
        for (const [kind, n, out] of moves) {
          const key = now.steps[n % Math.max(1, now.steps.length)]?.key ?? null
          const before = reachedFrom(now, now.start)
          if (out && key) {
            now = withoutStep(now, key)
            expect(now.steps.some(s => s.key === key)).toBe(false)
          } else {
            const put = withStep(now, kind, key, 'email')
            now = put.flow
            // Behind what can be reached and goes on it can be reached, too.
            const behind = now.steps.find(s => s.key === key)
            if (key && before.has(key) && behind && ('then' in behind || 'otherwise' in behind))
              expect(reachedFrom(now, now.start).has(put.key)).toBe(true)
          }
          const keys = stepsOf(now)
          for (const step of now.steps) for (const way of waysOf(step)) expect(way.to === null || keys.has(way.to)).toBe(true)
          expect(now.start === null || keys.has(now.start)).toBe(true)
          expect(keys.size).toBe(now.steps.length)
        }
      }),
    )
  })
  it('is led elsewhere by one way and no other', () => {
    const [first, second] = flow.steps
    const changed = connected(flow, first!.key, 'then', null)
    expect(waysOf(changed.steps[0]!)).toEqual([{ by: 'then', to: null }])
    expect(changed.steps[1]).toBe(second)
  })
})

describe('a chat as a point', () => {
  it('can be read, and its starters may go live but for what a house has to add', () => {
    for (const d of [blankChat('Ask us'), ...CHAT_STARTERS.map(s => s.definition)]) {
      const { definition, flaws } = readDefinition(JSON.parse(JSON.stringify(d)))
      expect(flaws).toEqual([])
      const stops = checksOf(definition!, {
        ...around,
        properties: [
          ...around.properties,
          ...['message', 'first_name'].map(key => ({
            key,
            kind: 'short_text' as const,
            label: key,
            sensitivity: 'ordinary' as never,
            retired: false,
          })),
        ],
      }).filter(c => c.level === 'stop')
      expect(stops.map(s => s.message)).toEqual([])
      expect(takesIn(definition!)).toBe(true)
    }
  })
  it('does not go live where somebody may be taken in who was never asked for their address', () => {
    const d = structuredClone(CHAT_STARTERS[0]!.definition)
    d.chat!.flow = {
      ...d.chat!.flow,
      steps: d.chat!.flow.steps.map(s =>
        s.key === 'by' && s.kind === 'ask' ? { ...s, ways: [{ value: 'This year', to: 'take_in' }] } : s,
      ),
    }
    const found = checksOf(d, around).find(c => c.message.includes('would belong to nobody'))
    expect(found).toMatchObject({
      level: 'stop',
      frame: 'questions',
      field: `chat.flow.steps.${d.chat!.flow.steps.findIndex(s => s.key === 'take_in')}`,
    })
  })
  it('does not go live where it hands over to a lane that the plan has no more', () => {
    const d = structuredClone(CHAT_STARTERS[0]!.definition)
    const i = d.chat!.flow.steps.findIndex(s => s.kind === 'hand_over')
    d.chat!.flow.steps[i] = { ...d.chat!.flow.steps[i]!, to: 'pool.schools' } as never
    const found = (pools: string[]) =>
      checksOf(d, { ...around, members: [], pools }).filter(c => c.field === `chat.flow.steps.${i}` && c.level === 'stop')
    expect([found([]).length, found(['schools'])]).toEqual([1, []])
  })
  it('says the same in another language, whatever is said at which step', () => {
    const d = addLanguage(CHAT_STARTERS[1]!.definition, 'de')
    const texts = translatable(d).filter(t => t.path.startsWith('chat.'))
    expect(texts.map(t => t.path)).toEqual(expect.arrayContaining(['chat.steps.hello.text', 'chat.steps.more.choices.1', 'chat.away']))
    const whole = texts.reduce((now, t) => translate(now, 'de', t.path, `DE ${t.text}`), d)
    const chat = inTongue(whole, 'de').chat!
    const said = chat.flow.steps.flatMap(s => [
      ...('text' in s && s.text ? [s.text] : []),
      ...(s.kind === 'say' ? s.choices.map(c => c.text) : []),
    ])
    expect(said.length).toBeGreaterThan(5)
    expect(said.every(t => t.startsWith('DE '))).toBe(true)
    expect(chat.flow.steps.map(waysOf)).toEqual(d.chat!.flow.steps.map(waysOf))
  })
})

describe('what is said', () => {
  it('has its placeholders filled in, and none of what was typed', () => {
    const known = (name: string) => (name === 'lead.first_name' ? '{{answer.x}}' : null)
    expect(filled('Hello {{lead.first_name}}{{^lead.first_name}}there{{/lead.first_name}}.', known)).toBe('Hello {{answer.x}}.')
    expect(filled('Hello {{lead.name}}{{^lead.name}}there{{/lead.name}}.', known)).toBe('Hello there.')
  })
  it('turns nothing round that stands beside it', () => {
    expect(asMessage('  a\u202eb\u2067c\u0000d\r\ne\tf ')).toBe('abcd\ne\tf')
    fc.assert(fc.property(fc.string({ unit: 'binary' }), text => !/[\u202A-\u202E\u2066-\u2069]/.test(asMessage(text))))
  })
})

describe('a conversation that is taken in', () => {
  it('is asked what its way asked, and does what no step has of its own and what its steps did', () => {
    const d = structuredClone(CHAT_STARTERS[0]!.definition)
    const tag = (key: string) => ({ kind: 'tag' as const, key, tags: [key], when: null })
    d.actions = [tag('always'), tag('here'), tag('elsewhere')] as never
    d.chat!.flow.steps.push(
      { kind: 'do', key: 'a', actions: ['here'], entry: false, then: null },
      { kind: 'do', key: 'b', actions: ['elsewhere'], entry: false, then: null },
    )
    const taken = takenIn(d, { email: 'a@b.example', what: 'x' }, ['hello', 'what', 'a', 'email'])
    expect([taken.questions.map(q => q.key), taken.actions.map(a => a.key)]).toEqual([
      ['what', 'email'],
      ['always', 'here'],
    ])
  })
})
