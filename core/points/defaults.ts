import { BY_EMAIL } from '#core/identity/same-person'
import { UNDECIDED } from '#core/points/undecided'
import type { Closing, Guards, Mailing, PeopleRules, Returns } from '#core/points/shapes/rules'
import type { Theme } from '#core/points/shapes/theme'

export const HOUSE_THEME: Theme = UNDECIDED
export const ALWAYS_OPEN: Closing = { from: null, until: null, entries: null, text: '', early: '', full: '' }
export const EVERYBODY: PeopleRules = { known: 'update', unknown: 'create', same: BY_EMAIL, refusal: '' }
export const ANY_SITE: Guards = { origins: [], challenge: 'attack', refusal: '', hold: false, approvers: [] }
export const HOUSE_MAILING: Mailing = { which: 'all', name: '', reply: '' }
export const NO_RETURNS: Returns = { correct: false, again: false }
