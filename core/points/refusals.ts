import type { Flaw } from '#core/flaws'
import type { Say } from '#core/languages/say'
import type { Closing, Guards, PeopleRules } from '#core/points/shapes/rules'

// What visitors read whose entry is not taken: the marketer's own words, or ours.

export type Shut = 'early' | 'late' | 'full'

/** What a visitor reads who comes while a point takes no entries. */
export const shutText = (closing: Pick<Closing, 'text' | 'early' | 'full'>, how: Shut, say: Say): string =>
  (how === 'late' ? '' : closing[how]) || closing.text || say(how)
/** What somebody reads whom the point does not know, where it is only for people it knows. */
export const strangerText = (people: Pick<PeopleRules, 'same' | 'refusal'>, say: Say): string =>
  people.refusal || say(people.same.includes('email') ? 'strangerAddress' : 'strangerOther')
/** What visitors read on a site where the point may not stand. */
export const foreignText = (guards: Pick<Guards, 'refusal'>, say: Say): string => guards.refusal || say('foreign')

/**
 * What stands over a form that did not go through: where to look, if something is marked; else what is wrong.
 * @param questions those that can be seen
 * @param look says that something is marked
 * @param otherwise said when no flaw says anything
 */
export function problemText(flaws: Flaw[], questions: { key: string; parameter?: string }[], look: string, otherwise = ''): string {
  const seen = questions.some(q => q.parameter === undefined && flaws.some(f => f.field === `answers.${q.key}`))
  return seen ? look : flaws.map(f => f.message).join(' ') || otherwise
}
