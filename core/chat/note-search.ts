import MiniSearch from 'minisearch'
import { wordingOf, type Wording } from '#core/chat/note-words'
import type { FoundNote, HitRate, NoteSetting, NoteText, TryQuestion, Verdict } from '#core/chat/notes-view'
import type { Language } from '#core/languages/language'

const words = (text: string): string[] => text.match(/[\p{L}\p{N}]+(?:[’'][\p{L}]+)?/gu) ?? []
/** What a text says, in stems, without the words that say nothing. */
export const stemsOf = (text: string, { isEmpty, stem }: Wording): string[] =>
  words(text)
    .filter(w => !isEmpty(w))
    .map(stem)
    .filter(Boolean)

export interface NoteIndex {
  size: number
  /** The best notes for a question, the best first. */
  find: (question: string, most?: number) => FoundNote[]
}

/**
 * An index of notes. What is found is ranked by BM25+ (MiniSearch), titles counting twice, misspelt words included; its score is the
 * part of the question's weight that the note covers, each word weighing by how rare it is among the notes (inverse document
 * frequency; K. Spärck Jones, 1972), so that one limit serves short and long questions.
 * @param language whose words the notes and the questions are in
 */
export function noteIndex(notes: readonly NoteText[], language: Language = 'en'): NoteIndex {
  const wording = wordingOf(language)
  const mini = new MiniSearch<NoteText>({
    fields: ['title', 'body'],
    storeFields: ['title'],
    tokenize: words,
    processTerm: term => (wording.isEmpty(term) ? null : wording.stem(term) || null),
    searchOptions: {
      boost: { title: 2 },
      fuzzy: term => (term.length > 4 ? 0.2 : false),
      prefix: term => term.length > 3,
      combineWith: 'OR',
    },
  })
  mini.addAll(notes)
  const inNotes = new Map<string, number>()
  for (const { title, body } of notes)
    for (const term of new Set(stemsOf(`${title} ${body}`, wording))) inNotes.set(term, (inNotes.get(term) ?? 0) + 1)
  const weight = (term: string) => Math.log(1 + (notes.length + 0.5) / ((inNotes.get(term) ?? 0) + 0.5))
  return {
    size: notes.length,
    find(question, most = 3) {
      const asked = [...new Set(stemsOf(question, wording))]
      const whole = asked.reduce((sum, term) => sum + weight(term), 0)
      if (!whole) return []
      return mini
        .search(question)
        .slice(0, Math.max(most, 8))
        .map(hit => {
          const met = new Map<string, number>()
          for (const term of hit.queryTerms) met.set(term, 1)
          // What only a similar word meets counts in part.
          const exact = new Set(hit.terms)
          const covered = asked.reduce((sum, term) => sum + (met.has(term) ? weight(term) * (exact.has(term) ? 1 : 0.7) : 0), 0)
          return { id: hit.id as string, title: hit.title as string, score: covered / whole, rank: hit.score }
        })
        .sort((a, b) => b.score * b.rank - a.score * a.rank)
        .slice(0, most)
        .map(({ id, title, score }) => ({ id, title, score }))
    },
  }
}

/** What is made of what was found. */
export function verdictOf(found: readonly FoundNote[], { answersFrom, asksFrom }: NoteSetting): Verdict {
  const best = found[0]?.score ?? 0
  return best >= answersFrom ? 'answered' : best >= asksFrom ? 'again' : 'nothing'
}

/** A question with the notes that it finds, which are the same under every setting. */
export interface Tried extends Pick<TryQuestion, 'note'> {
  found: readonly FoundNote[]
}
export const tryOn = (index: NoteIndex, questions: readonly TryQuestion[]): Tried[] =>
  questions.map(q => ({ note: q.note, found: index.find(q.text) }))

/** How a setting does on questions. */
export function hitRate(tried: readonly Tried[], setting: NoteSetting): HitRate {
  const rate: HitRate = { withAnswer: 0, answered: 0, offered: 0, without: 0, leftAlone: 0, wrong: 0 }
  for (const { note, found } of tried) {
    const verdict = verdictOf(found, setting)
    if (note === null) rate.without++
    else rate.withAnswer++
    if (verdict === 'answered') {
      if (note !== null && found[0]!.id === note) rate.answered++
      else rate.wrong++
    } else if (note !== null && verdict === 'again' && found.some(f => f.id === note && f.score >= setting.asksFrom)) rate.offered++
    else if (note === null) rate.leftAlone++
  }
  return rate
}

const STEP = 0.05
/**
 * The setting that does best on questions: a right answer counts one, one that is offered half, a wrong answer takes two away, since
 * nobody asks again who was told something false. Of settings that do alike the most careful one.
 */
export function bestSetting(tried: readonly Tried[]): NoteSetting {
  let best: { setting: NoteSetting; worth: number } | null = null
  for (let answersFrom = 1; answersFrom >= 0.15; answersFrom = round(answersFrom - STEP))
    for (let asksFrom = answersFrom; asksFrom >= 0.1; asksFrom = round(asksFrom - STEP)) {
      const setting = { answersFrom, asksFrom }
      const r = hitRate(tried, setting)
      const worth = r.answered + r.offered / 2 + r.leftAlone / 2 - 2 * r.wrong
      if (!best || worth > best.worth) best = { setting, worth }
    }
  return best!.setting
}
const round = (n: number) => Math.round(n * 100) / 100

/** Questions that ask alike, the largest group first: those whose words are shared by half or more. */
export function alike<Q extends { text: string }>(questions: readonly Q[], language: Language = 'en'): Q[][] {
  const wording = wordingOf(language)
  const groups: { terms: Set<string>; all: Q[] }[] = []
  for (const q of questions) {
    const terms = new Set(stemsOf(q.text, wording))
    const shared = (other: Set<string>) => {
      const both = [...terms].filter(t => other.has(t)).length
      return both / Math.max(1, terms.size + other.size - both)
    }
    const group = groups.map(g => ({ g, s: shared(g.terms) })).sort((a, b) => b.s - a.s)[0]
    if (group && group.s >= 0.4) group.g.all.push(q)
    else groups.push({ terms, all: [q] })
  }
  return groups.map(g => g.all).sort((a, b) => b.length - a.length)
}
