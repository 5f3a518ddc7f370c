import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { alike, bestSetting, hitRate, noteIndex, stemsOf, tryOn, verdictOf } from '#core/chat/note-search'
import type { NoteText, TryQuestion } from '#core/chat/notes-view'
import { wordingOf } from '#core/chat/note-words'
import { LANGUAGE_KEYS } from '#core/languages/language'
import { notes as demoNotes } from '../../demo/chat'

const lines = demoNotes('2026-01-01T00:00:00Z', 'somebody@larkmoss.example')
const notes: NoteText[] = lines.flatMap(l => (l.kind === 'note' ? [{ id: l.title, title: l.title, body: l.body }] : []))
const counts = { some: 0, none: 0 }
const questions: TryQuestion[] = lines.flatMap(l => {
  if (l.kind !== 'note_question') return []
  const kept = l.note === null ? counts.none++ : counts.some++
  return [{ id: l.text, text: l.text, note: l.note, keptOut: kept % 2 === 1 }]
})
const index = noteIndex(notes)
const all = tryOn(index, questions)

describe('a note', () => {
  it('is found by other forms of its words, and misspelt', () => {
    const english = wordingOf('en')
    expect(['heating', 'heated', 'vents', 'grants'].map(english.stem)).toEqual(['heat', 'heat', 'vent', 'grant'])
    expect(stemsOf('Do you need the permits?', english)).toEqual(['permit'])
    for (const asked of ['permits', 'a permitt please', 'PERMIT?'])
      expect([asked, index.find(asked)[0]?.title]).toEqual([asked, 'Whether you need a permit'])
  })
  it.each([
    ['de', 'Wie lange dauern die Arbeiten an den Häusern?', 'Die Arbeit an einem Haus dauert vierzehn Wochen.'],
    ['fr', 'Combien coûtent les serres chauffées ?', 'Une serre chauffée coûte neuf cents euros.'],
    ['es', '¿Cuánto cuestan los invernaderos?', 'Un invernadero cuesta novecientos euros.'],
    ['nl', 'Hoeveel kosten de kassen?', 'Een kas kost negenhonderd euro.'],
    ['pl', 'Ile kosztuje szklarnia?', 'Szklarnia kosztuje dziewięćset euro.'],
    ['ar', 'كم تكلف البيوت الزجاجية؟', 'البيت الزجاجي يكلف تسعمئة يورو.'],
  ] as const)(
    'is found in %s by other forms of its words, before one that shares only small words with the question',
    (language, asked, body) => {
      const small = asked.split(' ').filter(wordingOf(language).isEmpty).join(' ')
      const own = noteIndex(
        [
          { id: 'other', title: 'x', body: `${small} ${small} zzz` },
          { id: 'right', title: 'y', body },
        ],
        language,
      )
      expect(own.find(asked)[0]?.id).toBe('right')
    },
  )
  it('says nothing by small words alone, in any language', () => {
    for (const language of LANGUAGE_KEYS) {
      const { isEmpty, stem } = wordingOf(language)
      expect([language, isEmpty({ en: 'the', fr: 'les', de: 'die', es: 'los', nl: 'de', pl: 'jest', ar: 'في' }[language])]).toEqual([
        language,
        true,
      ])
      fc.assert(fc.property(fc.string(), word => typeof stem(word) === 'string'))
    }
  })
  it('is worth the part of the question that it covers, never more than all of it', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...notes.flatMap(n => n.body.split(' ')), 'zebra', 'the', 'of'), { maxLength: 12 }), words => {
        for (const { score } of index.find(words.join(' '))) {
          expect(score).toBeGreaterThan(0)
          expect(score).toBeLessThanOrEqual(1 + 1e-9)
        }
      }),
    )
    expect(index.find('of the and')).toEqual([])
    expect(index.find('')).toEqual([])
    expect(index.find('tank tank tank')[0]!.score).toBeCloseTo(index.find('tank')[0]!.score)
  })
  it('answers, is asked about, or leaves it to a person, by how much it covers', () => {
    const setting = { answersFrom: 0.7, asksFrom: 0.3 }
    const at = (score: number) => verdictOf([{ id: 'x', title: 'X', score }], setting)
    expect([at(0.7), at(0.69), at(0.3), at(0.29), verdictOf([], setting)]).toEqual(['answered', 'again', 'again', 'nothing', 'nothing'])
  })
})

describe('the setting', () => {
  it('that is chosen on some questions does well on others, a third of which have no answer', () => {
    const [chosen, keptOut] = [questions.filter(q => !q.keptOut), questions.filter(q => q.keptOut)]
    const setting = bestSetting(tryOn(index, chosen))
    const rate = hitRate(tryOn(index, keptOut), setting)
    expect(rate.without / keptOut.length).toBeGreaterThan(0.3)
    // Of twelve with an answer most get it or are offered it; hardly anybody is told something that is not so.
    expect(rate.answered + rate.offered).toBeGreaterThanOrEqual(9)
    expect(rate.wrong).toBeLessThanOrEqual(2)
  })
  it('is the best of all on the questions that it is chosen by', () => {
    const worth = (s: { answersFrom: number; asksFrom: number }) => {
      const r = hitRate(all, s)
      return r.answered + r.offered / 2 + r.leftAlone / 2 - 2 * r.wrong
    }
    const best = bestSetting(all)
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 20 }),
        fc.integer({ min: 2, max: 20 }),
        (a, b) => worth(best) >= worth({ answersFrom: Math.max(a, b) / 20, asksFrom: Math.min(a, b) / 20 }),
      ),
    )
  })
  it('counts each question once', () => {
    const r = hitRate(all, { answersFrom: 0.5, asksFrom: 0.3 })
    expect(r.withAnswer + r.without).toBe(questions.length)
    expect(r.answered + r.offered).toBeLessThanOrEqual(r.withAnswer)
    expect(r.leftAlone).toBeLessThanOrEqual(r.without)
  })
})

it('questions that ask alike stand together, the largest group first', () => {
  const asked = ['Can you build on a slope?', 'Do you sell seeds?', 'building on slopes, can you?', 'on a slope?', 'Is hail a danger'].map(
    (text, n) => ({ n, text }),
  )
  expect(alike(asked).map(g => g.map(q => q.n))).toEqual([[0, 2, 3], [1], [4]])
  fc.assert(
    fc.property(fc.array(fc.string(), { maxLength: 12 }), texts => alike(texts.map(text => ({ text }))).flat().length === texts.length),
  )
})
