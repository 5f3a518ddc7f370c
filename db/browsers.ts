import type { ActivityKind } from '#core/conditions/condition'
import type { PastActivity } from '#core/leads/past'
import type { Db } from '#db/client'

/** What is known of a browser alone, whoever is said to be behind it. */

export interface BrowserEntry {
  at: Date
  point: string
  answers: Record<string, string | string[]>
  /** The definition of the point's edition, as it was stored. */
  definition: unknown
}
/** What was sent from a browser since it was last somebody else's, the latest first. */
export const entriesOfBrowser = (db: Db, visitor: string) => db<BrowserEntry[]>`
  select e.at, p.key as point, e.answers, d.definition
  from visitor_lead v join entry e on e.lead_id = v.lead_id and e.visitor_id = v.visitor_id join point p on p.id = e.point_id join edition d on d.id = e.edition_id
  where v.visitor_id = ${visitor} and v.until = 'infinity' and v.undone_at is null and e.state = 'complete' order by e.at desc limit 50`

const MOST = 5_000
interface EventRow {
  kind: ActivityKind
  at: Date
  path: string
  title: string | null
  data: Record<string, unknown> | null
}
interface VisitRow {
  at: Date
  source: string
  device: string
  language: string | null
  place: string | null
  pages: number
  utm: Record<string, string>
}

/** What a browser did since it was last somebody else's, whoever is said to be behind it now; of very long trails the latest part. */
export async function activitiesOfBrowser(db: Db, visitor: string): Promise<PastActivity[]> {
  const since = db`(select coalesce(max(coalesce(o.undone_at, o.until)), '-infinity') from visitor_lead o
    where o.visitor_id = ${visitor} and (o.undone_at is not null or o.until < 'infinity'))`
  const [events, visits] = await Promise.all([
    db<EventRow[]>`select e.kind, e.at, e.path, e.title, e.data from trail_event e where e.visitor_id = ${visitor} and e.at >= ${since}
      and e.kind <> 'read' and not exists (select from visit t where t.id = e.visit_id and t.robot) order by e.at desc limit ${MOST}`,
    db<VisitRow[]>`select t.began_at as at, t.source, t.device, t.language, t.place, t.pages, t.utm from visit t
      where t.visitor_id = ${visitor} and t.began_at >= ${since} and not t.robot limit ${MOST}`,
  ])
  return [...events.map(eventActivity), ...visits.map(visitActivity)]
}

function eventActivity({ kind, at, path, title, data }: EventRow): PastActivity {
  const { point, question, mark, file, name, properties } = (data ?? {}) as Record<string, string | undefined> & { properties?: object }
  return {
    kind,
    at: at.getTime(),
    attributes: { 'page.path': path, 'page.title': title, point, question, mark, file, event: name, ...texts('event.', properties) },
  }
}

const visitActivity = ({ at, source, device, language, place, pages, utm }: VisitRow): PastActivity => ({
  kind: 'visit',
  at: at.getTime(),
  attributes: {
    'visit.source': source,
    'visit.device': device,
    'visit.language': language,
    'visit.place': place,
    'visit.pages': String(pages),
    ...texts('utm.', utm),
  },
})

const texts = (prefix: string, values: object | null | undefined) =>
  Object.fromEntries(Object.entries(values ?? {}).map(([k, v]) => [prefix + k, Array.isArray(v) ? v.map(String) : String(v)]))
