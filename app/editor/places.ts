import type { ComputedRef, InjectionKey } from 'vue'
import type { Place } from '#core/points/mails'

/** What may be put into the text in hand. */
export const PLACES: InjectionKey<ComputedRef<Place[]>> = Symbol('places')
