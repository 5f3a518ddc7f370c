import type { Property } from '#core/properties/kinds'

/** What the checks compare a definition with: the properties, labels and mail topics that exist, and the names of the other points. */
export interface Surroundings {
  properties: Pick<Property, 'key' | 'kind' | 'label' | 'sensitivity' | 'retired'>[]
  labels: string[]
  topics?: string[]
  /** Ids of the lists there are. */
  lists?: string[]
  /** Ids of those who work here. */
  members?: string[]
  /** Keys of the lanes of the routing plan. */
  pools?: string[]
  /** The files of ours that are there, by id; unknown when it is not given. */
  files?: Set<string>
  otherNames?: string[]
  /** Milliseconds since 1970; without it nothing is too late. */
  now?: number
  name?: string
}

/** Why a point cannot go live under its name; null when it can. */
export const nameFlaw = ({ name, otherNames }: Pick<Surroundings, 'name' | 'otherNames'>): string | null =>
  name && otherNames?.some(other => other.trim().toLowerCase() === name.trim().toLowerCase())
    ? `Another form or page is called “${name.trim()}”. Call it something else: nobody could tell them apart in lists and mails.`
    : null
