import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blankDefinition, blankQuestion } from '#core/points/definition'
import { mayRemind } from '#core/points/reminder'
import { PLAIN_READING } from '#core/points/values'
import type { Property } from '#core/properties/kinds'
import { readTyped, typedInto, typedOnSite } from '#core/unfinished/typed'

const property = (key: string, kind: Property['kind'], sensitivity: Property['sensitivity'] = 'ordinary'): Property => ({
  key,
  label: key,
  kind,
  rank: 1,
  sensitivity,
  choices: [],
  retired: false,
})
const PROPERTIES = [
  property('email', 'email'),
  property('first_name', 'short_text'),
  property('phone', 'phone', 'private'),
  property('health', 'short_text', 'sensitive'),
  property('size', 'number'),
]
const q = (key: string, kind: Property['kind'], to: string | null = null) => blankQuestion({ key, kind, label: key, property: to })
const QUESTIONS = [
  q('name', 'short_text', 'first_name'),
  q('mail', 'email', 'email'),
  q('tel', 'phone', 'phone'),
  q('ill', 'short_text', 'health'),
  q('size', 'number', 'size'),
  q('plan', 'file'),
  q('text', 'long_text'),
]
const into = (answers: Record<string, string>, settled = Object.keys(answers)) =>
  typedInto(QUESTIONS, readTyped(answers), settled, PROPERTIES, PLAIN_READING)

describe('what is typed and not sent', () => {
  it('is kept as typed, without files, and without what the house calls private', () => {
    const typed = into({ name: 'Ida', tel: '06 12 34 56 78', ill: 'asthma', plan: 'x.pdf', size: '12 m', unheard: 'x' })
    expect(typed).toEqual({ answers: { name: 'Ida', size: '12 m' }, values: { first_name: 'Ida' }, email: null })
  })
  it('tells an address in whichever field it stands, once nobody is typing there any more', () => {
    expect(into({ name: 'Ida@Firm.example' })).toMatchObject({ email: { key: 'ida@firm.example' }, values: {} })
    expect(into({ text: 'Write to <ida@firm.example>, please.' }).email?.key).toBe('ida@firm.example')
    expect(into({ name: 'other@firm.example', mail: 'ida@firm.example' }).email).toMatchObject({ key: 'ida@firm.example', sure: true })
    expect(into({ text: 'My colleague is other@firm.example' }).email).toMatchObject({ sure: false })
    expect(into({ mail: 'ida@firm.ex' }, []).email).toBeNull()
    expect(into({ mail: 'ida@' }).email).toBeNull()
  })
  it('of the site’s own fields fills the property that the mark names, and nothing private', () => {
    const typed = typedOnSite(
      readTyped({ email: 'ida@firm.example', first_name: 'Ida', phone: '0612345678', question: 'When?' }),
      ['email', 'first_name', 'phone', 'question'],
      PROPERTIES,
      PLAIN_READING,
    )
    expect(typed).toMatchObject({
      answers: { email: 'ida@firm.example', first_name: 'Ida', question: 'When?' },
      values: { first_name: 'Ida' },
      email: { key: 'ida@firm.example', sure: true },
    })
    expect(typed.answers.phone).toBeUndefined()
  })
  it('is never the number of a card', () => {
    expect(readTyped({ a: '4111 1111 1111 1111', b: '4111 1111 1111 1112', c: '5500-0055-5555-5559' })).toEqual({
      b: '4111 1111 1111 1112',
    })
  })
  it('is reminded of only where the house allows it, the form does, the person agreed, and has not left since', () => {
    const asking = {
      ...blankDefinition('Form'),
      reminder: { hours: 1, subject: 'x', text: 'y' },
      questions: [blankQuestion({ key: 'ok', kind: 'consent', allows: ['journal'] }), blankQuestion({ key: 'terms', kind: 'consent' })],
    }
    const all = { allowed: true, agreedBefore: false, unsubscribed: false }
    expect(mayRemind(asking, { ok: 'yes' }, all)).toBe(true)
    expect(mayRemind(asking, {}, { ...all, agreedBefore: true })).toBe(true)
    // Other words that were ticked allow nothing.
    for (const [answers, known] of [
      [{}, all],
      [{ terms: 'yes' }, all],
      [{ ok: 'yes' }, { ...all, allowed: false }],
      [{ ok: 'yes' }, { ...all, unsubscribed: true, agreedBefore: true }],
    ] as const)
      expect(mayRemind(asking, answers, known)).toBe(false)
    expect(mayRemind({ ...asking, reminder: null }, { ok: 'yes' }, all)).toBe(false)
  })
  it('is bounded, and nothing in it can throw or reach an object’s own parts', () => {
    fc.assert(
      fc.property(fc.anything(), raw => {
        const read = readTyped(raw)
        expect(Object.keys(read).length).toBeLessThanOrEqual(60)
        typedInto(QUESTIONS, read, Object.keys(read), PROPERTIES, PLAIN_READING)
      }),
    )
    expect(Object.keys(readTyped(JSON.parse('{"__proto__": "x", "name": "y"}') as object))).toEqual(['name'])
    expect((readTyped({ text: 'x'.repeat(10_000) }).text as string).length).toBe(2000)
  })
})
