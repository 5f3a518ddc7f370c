import snowball from 'snowball-stemmers'
import { ara, deu, fra, nld, pol, spa } from 'stopword'
import type { Language } from '#core/languages/language'

/** How the words of a language are compared. */
export interface Wording {
  /** Whether a word says nothing of what is asked. */
  isEmpty: (word: string) => boolean
  /** A word without its endings, so that its forms meet. Not a dictionary: both sides are cut alike. */
  stem: (word: string) => string
}

/** English words that say nothing of what is asked. */
const STOP = new Set(
  'a about an and any are as at be been but by can could did do does for from get give had has have how i if in into is it its just like may me mine my need no not of on one or our out please shall should so some tell than that the their them then there these they this to up us was we were what when where which who why will with would you your yours much many long often also really want know help thank thanks hello hi'.split(
    ' ',
  ),
)
const bare = (word: string): string =>
  word
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[’']s?$/, '')

/** English endings, cut more coarsely than Snowball does: “vents” and “vent”, “heating” and “heated” meet. */
function englishStem(word: string): string {
  const plain = bare(word)
  if (plain.length < 4) return plain
  return (
    plain
      .replace(/(?:ies)$/, 'y')
      .replace(/(?:ings?|edly|ed|ers?|ations?|ates?|es|s|ly)$/, '')
      .replace(/(.)\1$/, '$1')
      .replace(/e$/, '') || plain
  )
}

/** By Snowball's algorithms and the lists of `stopword`; of Polish there is a list alone. */
const OTHERS: Record<Exclude<Language, 'en'>, { empty: readonly string[]; algorithm: string | null }> = {
  de: { empty: deu, algorithm: 'german' },
  fr: { empty: fra, algorithm: 'french' },
  es: { empty: spa, algorithm: 'spanish' },
  nl: { empty: nld, algorithm: 'dutch' },
  pl: { empty: pol, algorithm: null },
  ar: { empty: ara, algorithm: 'arabic' },
}
const made = new Map<Language, Wording>([['en', { isEmpty: word => STOP.has(word.toLowerCase()), stem: englishStem }]])

/** How words are compared in a language. */
export function wordingOf(language: Language): Wording {
  const found = made.get(language)
  if (found || language === 'en') return found ?? made.get('en')!
  const { empty, algorithm } = OTHERS[language]
  const words = new Set(empty.map(w => w.toLowerCase()))
  const cut = algorithm === null ? null : snowball.newStemmer(algorithm)
  const wording: Wording = {
    isEmpty: word => words.has(word.toLowerCase()),
    stem: word => bare(cut ? cut.stem(word.toLowerCase()) : word),
  }
  made.set(language, wording)
  return wording
}
