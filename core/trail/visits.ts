import type { TrailEvent } from '#core/trail/events'

/** A page of a visit, with what was done on it. */
export interface ReadPage {
  path: string
  title: string | null
  at: number
  seconds: number
  depth: number
  acts: Act[]
}
/** Something done on a page, told in a few words by the screen. A point: how far it went. */
export type Act =
  | {
      kind: 'point'
      point: string
      placement: string | null
      reached: 'seen' | 'started' | 'left' | 'finished'
      question: string | null
      seconds: number
    }
  | { kind: 'mark' | 'file' | 'event'; name: string; at: number; properties?: Record<string, string | number | boolean> }

const FARTHEST = ['seen', 'started', 'left', 'finished'] as const

/**
 * Folds the events of a visit into its pages, in the order in which they were opened.
 * Events may come in any order; what was done on a page belongs to its latest opening before.
 */
export function foldVisit(events: TrailEvent[]): ReadPage[] {
  const pages: ReadPage[] = []
  const latest = new Map<string, ReadPage>()
  // Of one moment the opening of a page comes first.
  const order = [...events].sort((a, b) => a.at - b.at || Number(b.kind === 'page') - Number(a.kind === 'page'))
  for (const event of order) {
    let page = latest.get(event.path)
    if (event.kind === 'page' || !page) {
      page = { path: event.path, title: event.title, at: event.at, seconds: 0, depth: 0, acts: [] }
      pages.push(page)
      latest.set(event.path, page)
    }
    if (event.kind !== 'page') addTo(page, event)
  }
  return pages
}

function addTo(page: ReadPage, { kind, at, data }: TrailEvent): void {
  if (!data) return
  if (kind === 'read') {
    page.seconds += data.seconds ?? 0
    page.depth = Math.max(page.depth, data.depth ?? 0)
  } else if (kind === 'mark' || kind === 'file' || kind === 'event') {
    page.acts.push({
      kind,
      name: data.mark ?? data.file ?? data.name ?? '',
      at,
      ...(data.properties && Object.keys(data.properties).length && { properties: data.properties }),
    })
  } else if (data.point) {
    let act = page.acts.find(a => a.kind === 'point' && a.point === data.point) as Extract<Act, { kind: 'point' }> | undefined
    if (!act)
      page.acts.push(
        (act = { kind: 'point', point: data.point, placement: data.placement ?? null, reached: 'seen', question: null, seconds: 0 }),
      )
    const reached = FARTHEST.find(f => f === kind) ?? 'started'
    if (FARTHEST.indexOf(reached) > FARTHEST.indexOf(act.reached)) act.reached = reached
    if (data.question) act.question = data.question
    if (kind === 'question') act.seconds += data.seconds ?? 0
  }
}

/** Where somebody came from, in a word: what the address says of it, else the site that led here. */
export function sourceOf(referrer: string | null, utm: Record<string, string>): string {
  if (utm.source) return utm.source.slice(0, 100)
  return (
    (referrer &&
      /^https?:\/\/([^/:?#]+)/i
        .exec(referrer)?.[1]
        ?.toLowerCase()
        .replace(/^www\./, '')
        .slice(0, 100)) ||
    'direct'
  )
}

/** Where a visit came from, in words. */
export const cameFrom = (source: string): string => (source === 'direct' ? 'came directly' : `from ${source}`)
