import type { Chat } from '#core/chat/chat'
import type { Placement } from '#core/appearing/kinds'
import type { DisplayRules } from '#core/appearing/schema'
import type { Variant } from '#core/points/shapes/rules'

export { MOMENTS, PLACEMENTS, type Placement } from '#core/appearing/kinds'
export { NOWHERE } from '#core/appearing/nowhere'
export type { DisplayRules, Moment, Period, Rest } from '#core/appearing/schema'

/** These come without being asked; one at a time. */
export const isUninvited = (placement: Placement) => placement === 'over' || placement === 'edge' || placement === 'corner'

/** Of these only the first in the order whose rules hold stands: of those that come uninvited, and of floating buttons. */
export const hasOrder = (placement: Placement) => isUninvited(placement) || placement === 'float'
/** These say something before they are opened. */
export const hasInvitation = (placement: Placement) => placement === 'edge' || placement === 'corner' || placement === 'float'

/**
 * The rules as they apply. What a placement does not show is kept for the day it is chosen again, and counts for nothing: what stands
 * in the text or behind a button, the page's or ours, was asked for; it waits for no moment, rests never, and stands on any screen.
 */
export const applying = <A extends Omit<DisplayRules, 'on'>>(a: A): A =>
  isUninvited(a.placement) ? a : { ...a, moments: [], together: 'any', rest: { closed: 0, answered: 0, perVisit: 50 }, small: true }

/**
 * What the visitors' script knows of a point that may appear. Tests that only the server can judge stand in the
 * audience as `server.0`, `server.1`…, so that nothing of what we know about people is in the script; `nobody` is
 * what the server says of somebody whom it does not know.
 */
export interface PublicDisplayRules extends Omit<DisplayRules, 'on'> {
  key: string
  edition: number
  title: string
  nobody: boolean[]
  chat?: Chat['place']
  experiment?: string
  variants?: Pick<Variant, 'key' | 'title' | 'invitation' | 'open'>[]
}
