import type { Property } from '#core/properties/kinds'

/** The firm's own words, as they are set up. */
/** `country` reads national phone numbers; `currency` is what money properties are in (ISO 4217). */
export interface House { name: string; workingDays: number[]; worksFrom: number; worksUntil: number; zone: string; country: string; currency: string }
/** `qualified`: from this label on a lead counts as qualified. `responseTarget` in working minutes. */
export interface Label { key: string; name: string; rank: number; qualified: boolean; responseTarget: number }
export interface Status { key: string; name: string; rank: number; stage: 'first' | 'open' | 'won' | 'lost' | 'parked' }
/** Mails that people can agree to. */
export interface MailTopic { key: string; name: string; rank: number }
export interface Vocabulary { house: House; labels: Label[]; statuses: Status[]; properties: Property[]; topics: MailTopic[] }
