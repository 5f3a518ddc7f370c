import type { Flaw } from '#core/flaws'
import type { Closing, Guards, PeopleRules } from '#core/points/shapes/rules'

// What visitors read whose entry is not taken: the marketer's own words, or ours.

export type Shut = 'early' | 'late' | 'full'

const SHUT: Record<Shut, string> = {
  early: 'This form is not open yet. Come back a little later.',
  late: 'This form is closed.',
  full: 'All places are taken.',
}
const STRANGER = {
  address: 'We do not know this address yet, and this form is for people we know. Use the address that we write to you at.',
  other: 'We do not know you yet, and this form is for people we know. Check what you wrote, or write to us.',
}
const FOREIGN = 'This form may not be used from this site. Whoever looks after it can allow the site in Cavlin.'

/** What a visitor reads who comes while a point takes no entries. */
export const shutText = (closing: Pick<Closing, 'text' | 'early' | 'full'>, how: Shut): string =>
  (how === 'late' ? '' : closing[how]) || closing.text || SHUT[how]
/** What somebody reads whom the point does not know, where it is only for people it knows. */
export const strangerText = (people: Pick<PeopleRules, 'same' | 'refusal'>): string =>
  people.refusal || (people.same.includes('email') ? STRANGER.address : STRANGER.other)
/** What visitors read on a site where the point may not stand. */
export const foreignText = (guards: Pick<Guards, 'refusal'>): string => guards.refusal || FOREIGN

/**
 * What stands over a form that did not go through: where to look, if something is marked; else what is wrong.
 * @param questions those that can be seen
 * @param otherwise said when no flaw says anything
 */
export function problemText(flaws: Flaw[], questions: { key: string; parameter?: string }[], otherwise = ''): string {
  const seen = questions.some(q => q.parameter === undefined && flaws.some(f => f.field === `answers.${q.key}`))
  return seen ? 'Something is missing or does not fit. Look at the marked answers.' : flaws.map(f => f.message).join(' ') || otherwise
}
