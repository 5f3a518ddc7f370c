import type { Language } from '#core/languages/language'
import type { Texts } from '#core/languages/texts/en'

/** A house's own words in place of some of ours. */
export type OwnTexts = Partial<Record<Language, Partial<Texts>>>

/** One process serves one house: its own words in place of ours. Apart from ours, which many screens do not need. */
let own: OwnTexts = {}
export const useOwnTexts = (texts: OwnTexts): void => {
  own = texts
}
/** The house's own words. */
export const ownTexts = (): OwnTexts => own
