import type { Activity } from '#core/scoring/score'
import type { TrailData } from '#core/trail/events'

/** What a visitor did that may earn interest: a page that was read, or an event of the site's own. */
export interface ActivityRow {
  kind: string
  at: Date
  path: string
  title: string | null
  data: TrailData | null
}

/** It as a scorecard judges it. */
export function trailActivity({ kind, at, path, title, data }: ActivityRow): Activity {
  const event = kind === 'event'
  return {
    kind: event ? 'event' : 'page_view',
    at: at.getTime(),
    note: event ? (data?.name ?? '') : path,
    attributes: name =>
      name === 'page.path'
        ? path
        : name === 'page.title'
          ? title
          : name === 'event'
            ? data?.name
            : name.startsWith('event.') && Object.hasOwn(data?.properties ?? {}, name.slice(6))
              ? data!.properties![name.slice(6)]
              : undefined,
  }
}

/** Rows of several browsers, as scorecards judge them, by browser. */
export function activitiesByVisitor(rows: (ActivityRow & { visitorId: string })[]): Map<string, Activity[]> {
  const all = new Map<string, Activity[]>()
  for (const row of rows) all.set(row.visitorId, [...(all.get(row.visitorId) ?? []), trailActivity(row)])
  return all
}
