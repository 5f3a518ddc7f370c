import { UNDECIDED } from '#core/points/undecided'
import type { Closing, Returns } from '#core/points/shapes/rules'
import type { Theme } from '#core/points/shapes/theme'

export const HOUSE_THEME: Theme = UNDECIDED
export const ALWAYS_OPEN: Closing = { from: null, until: null, entries: null, text: '' }
export const NO_RETURNS: Returns = { correct: false, again: false }
