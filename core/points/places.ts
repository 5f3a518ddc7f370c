import { proportion, type Proportion } from '#core/stats/proportion'

/** A page of the site, and the points that stand on it. */
export interface Place {
  page: string
  site: string
  path: string
  title: string | null
  visitors: number
  points: PointOnPage[]
  /** Many come here, and nothing asks them. */ missed: boolean
}
export interface PointOnPage {
  id: string
  name: string
  seen: number
  started: number
  finished: number
  /** Finished by visitors whose looks are counted. */ counted: number
  /** Of the looks that were counted, those that ended in an entry; null where none were. */ rate: Proportion | null
}

/** Fewer visitors than this are not many, whatever the others have. */
const MANY = 20

/**
 * Pages by visitors, each with its points. A page without a point on which at least as many
 * visitors were as on the median page with one is marked.
 */
export function places(
  pages: { page: string; title: string | null; visitors: number }[],
  points: { page: string; pointId: string; name: string; seen: number; started: number; finished: number; counted: number }[],
): Place[] {
  const byPage = new Map(pages.map(p => [p.page, { ...p, points: [] as PointOnPage[] }]))
  for (const { page, pointId, name, seen, started, finished, counted } of points) {
    const place = byPage.get(page) ?? { page, title: null, visitors: 0, points: [] }
    byPage.set(page, place)
    place.points.push({
      id: pointId,
      name,
      seen,
      started,
      finished,
      counted,
      rate: seen && counted <= seen ? proportion(counted, seen) : null,
    })
  }
  const all = [...byPage.values()].sort((a, b) => b.visitors - a.visitors || (a.page < b.page ? -1 : 1))
  const withPoint = all.filter(p => p.points.length && p.visitors).map(p => p.visitors)
  const usual = Math.max(MANY, withPoint[Math.floor(withPoint.length / 2)] ?? MANY)
  return all.map(p => {
    const url = URL.canParse(p.page) ? new URL(p.page) : null
    return { ...p, site: url?.host ?? '', path: url?.pathname ?? p.page, missed: !p.points.length && p.visitors >= usual }
  })
}
