import type { Closing, Returns } from '#core/points/shapes/rules'
import type { Theme } from '#core/points/shapes/theme'

/** What a point looks like before anybody decides. */
export const HOUSE_THEME: Theme = {
  sheet: '#fffdf9', ink: '#1d2a2b', accent: '#14594f', font: 'page', corners: 'soft', fields: 'boxed', button: 'natural', width: 'medium', align: 'start',
  backdrop: { kind: 'plain' }, logo: null,
}
export const ALWAYS_OPEN: Closing = { from: null, until: null, entries: null, text: '' }
export const NO_RETURNS: Returns = { correct: false, again: false }
