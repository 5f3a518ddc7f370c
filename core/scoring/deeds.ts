import type { ActivityKind } from '#core/conditions/condition'

/** What people do that may earn interest: each kind with its words. A new kind is its line here, and whatever tells of it (`Activity`). */
export const DEEDS = {
  entry: { name: 'An entry', says: 'An entry', like: 'entry' },
  page_view: { name: 'A page that is read', says: 'A page, each once a day', like: 'page' },
  event: { name: 'An event of the site', says: 'An event of the site, each once a day', like: 'event' },
  clicked: { name: 'A link of a mail that is followed', says: 'A followed link of a mail, each mail once a day', like: null },
  meeting: { name: 'A meeting that is chosen', says: 'A chosen meeting', like: null },
} as const satisfies Record<
  string,
  { name: string; says: string; /** The kind of activity that conditions know it as. */ like: ActivityKind | null }
>

export type DeedKind = keyof typeof DEEDS
export const DEED_KINDS = Object.keys(DEEDS) as DeedKind[]

/** Of these the same (`note`) counts once a day: a page that is opened five times was read once. */
export const ONCE_A_DAY: ReadonlySet<DeedKind> = new Set(['page_view', 'event', 'clicked'])
