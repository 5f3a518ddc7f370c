import fc from 'fast-check'
import { expect, it } from 'vitest'
import { blankDefinition, blankQuestion, QUESTION_KINDS, type PointDefinition } from '#core/points/definition'
import { effortOf } from '#core/points/effort'

const d = (...kinds: (typeof QUESTION_KINDS)[number][]): PointDefinition => ({
  ...blankDefinition('Ask'),
  questions: kinds.map((kind, i) => blankQuestion({ key: `q${i}`, kind, label: 'And what?', required: true })),
})
const kinds = fc.array(fc.constantFrom(...QUESTION_KINDS), { maxLength: 8 })

it('each question more takes time and loses people, whatever it is', () => {
  fc.assert(
    fc.property(kinds, fc.constantFrom(...QUESTION_KINDS), (some, more) => {
      const [less, whole] = [effortOf(d(...some), []), effortOf(d(...some, more), [])]
      expect(whole.seconds).toBeGreaterThanOrEqual(less.seconds)
      expect(whole.finish).toBeLessThan(less.finish)
    }),
  )
})
it('private questions lose more than the same question about something ordinary', () => {
  const asks = (property: string) =>
    effortOf({ ...d(), questions: [blankQuestion({ key: 'q', kind: 'number', label: 'N', required: true, property })] }, [
      { key: 'a', sensitivity: 'ordinary' },
      { key: 'b', sensitivity: 'sensitive' },
    ]).finish
  expect(asks('b')).toBeLessThan(asks('a'))
})
it('follows our own entries once there are enough, and scales them by what was changed', () => {
  const live = d('email', 'short_text')
  const measured = { seconds: 60, entries: 20, started: 50, finished: 30, live }
  expect(effortOf(live, [], measured)).toEqual({ seconds: 60, finish: 0.6, secondsFrom: 'entries', finishFrom: 'entries' })
  expect(effortOf(d('email', 'short_text', 'long_text'), [], measured).seconds).toBeGreaterThan(60)
  expect(effortOf(live, [], { ...measured, entries: 19, started: 39 })).toMatchObject({
    secondsFrom: 'assumptions',
    finishFrom: 'assumptions',
  })
  // More finished than began: something was not counted.
  expect(effortOf(live, [], { ...measured, finished: 51 }).finishFrom).toBe('assumptions')
})
