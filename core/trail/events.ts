/**
 * What browsers tell of a visit. Everything here comes from outside and is bounded:
 * what does not fit is left out, and nothing of it can throw.
 */
export const TRAIL_KINDS = ['page', 'read', 'mark', 'seen', 'started', 'question', 'left', 'finished', 'file', 'event', 'gone'] as const
export type TrailKind = (typeof TRAIL_KINDS)[number]

/**
 * One thing that a visitor did. What belongs to the kinds:
 * page: what the site allows of its query; read: seconds it was in sight, depth it was scrolled to, in percent; mark: the mark's name;
 * seen, started, left, finished: the point, its edition, how it stood there, in which variant of which experiment; question: the point, the question, seconds at it;
 * file: its name; event: its name and properties; gone: nothing, the page was closed or left (kept with the visit, not among its events).
 */
export interface TrailEvent {
  kind: TrailKind
  at: number
  path: string
  title: string | null
  data: TrailData | null
}
export interface TrailData {
  seconds?: number
  depth?: number
  mark?: string
  point?: string
  edition?: number
  placement?: string
  /** Of a question: they were at it for the first time since they saw the form. */ first?: true
  experiment?: string
  variant?: string
  question?: string
  file?: string
  name?: string
  properties?: Record<string, string | number | boolean>
}

export const TRAIL_LIMITS = {
  /** Events of one request. */ events: 120,
  /** Milliseconds that an event may lie back: what could not be sent is kept that long. */ late: 7 * 86_400_000,
  /** Milliseconds by which a clock may differ and still be right. */ skew: 5_000,
  path: 500,
  title: 300,
  name: 60,
  text: 200,
  properties: 20,
} as const

/**
 * Reads what a browser says it did.
 * @param sent the browser's clock when it sent; wrong clocks are set right by it
 * @param now ours, in milliseconds since 1970
 */
export function readEvents(raw: unknown, sent: number, now: number): TrailEvent[] {
  if (!Array.isArray(raw)) return []
  return raw.slice(0, TRAIL_LIMITS.events).flatMap(one => {
    const event = readEvent(one, sent, now)
    return event ? [event] : []
  })
}

function readEvent(raw: unknown, sent: number, now: number): TrailEvent | null {
  if (typeof raw !== 'object' || raw === null) return null
  const r = raw as Record<string, unknown>
  const kind = TRAIL_KINDS.find(k => k === r.kind)
  const path = pathOf(r.path)
  if (!kind || !path) return null
  const data = DATA[kind](r)
  if (data === undefined) return null
  // A clock that is right is believed, so that what took different ways keeps its order; of another only how long ago it was, and no more than a week of it.
  const clock = Math.abs(now - sent) <= TRAIL_LIMITS.skew ? now : sent
  const ago = typeof r.at === 'number' && Number.isFinite(r.at) && Number.isFinite(clock) ? clock - r.at : 0
  return {
    kind,
    at: Math.round(now - Math.min(TRAIL_LIMITS.late, Math.max(0, ago))),
    path,
    title: kind === 'page' ? text(r.title, TRAIL_LIMITS.title) : null,
    data,
  }
}

/** A path alone, without query and fragment; null when it is none. */
function pathOf(value: unknown): string | null {
  return typeof value === 'string' && value.startsWith('/') ? value.split(/[?#]/)[0]!.slice(0, TRAIL_LIMITS.path) : null
}
function text(value: unknown, most: number): string | null {
  return typeof value === 'string' && value.trim() ? value.trim().slice(0, most) : null
}
const whole = (value: unknown, most: number): number => (typeof value === 'number' && value > 0 ? Math.min(most, Math.round(value)) : 0)

/** What belongs to each kind; undefined where the event says nothing without it. */
const DATA: Record<TrailKind, (r: Record<string, unknown>) => TrailData | null | undefined> = {
  page(r) {
    const properties = readProperties(r.query)
    return Object.keys(properties).length ? { properties } : null
  },
  read: r => ({ seconds: whole(r.seconds, 86_400), depth: whole(r.depth, 100) }),
  gone: () => null,
  mark: r => named(r, 'mark'),
  file: r => named(r, 'file'),
  seen: at,
  started: at,
  finished: at,
  left: at,
  question(r) {
    const there = at(r)
    return there?.question ? { ...there, seconds: whole(r.seconds, 86_400), ...(r.first === true && { first: true as const }) } : undefined
  },
  event(r) {
    const name = text(r.name, TRAIL_LIMITS.name)
    return name === null ? undefined : { name, properties: readProperties(r.properties) }
  },
}

function named(r: Record<string, unknown>, key: 'mark' | 'file'): TrailData | undefined {
  const name = text(r[key], TRAIL_LIMITS.text)
  return name === null ? undefined : { [key]: name }
}
function at(r: Record<string, unknown>): TrailData | undefined {
  const point = text(r.point, TRAIL_LIMITS.name)
  if (point === null) return undefined
  const question = text(r.question, TRAIL_LIMITS.name)
  const placement = text(r.placement, 20)
  const edition = whole(r.edition, 1_000_000)
  // A page that was open while Cavlin was brought up to date has the earlier names.
  const [experiment, variant] = [text(r.experiment ?? r.trial, 12), text(r.variant ?? r.wording, 2)]
  return {
    point,
    ...(edition && { edition }),
    ...(placement && { placement }),
    ...(experiment && variant && { experiment, variant }),
    ...(question && { question }),
  }
}

/** Properties of an event of the site's own: a few plain values by name. */
export function readProperties(raw: unknown): Record<string, string | number | boolean> {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) return {}
  const read: Record<string, string | number | boolean> = {}
  let taken = 0
  for (const name in raw) {
    if (taken === TRAIL_LIMITS.properties) break
    const value = (raw as Record<string, unknown>)[name]
    if (!/^[\p{L}\p{N}_. -]{1,40}$/u.test(name) || name === '__proto__') continue
    if (typeof value === 'string') read[name] = value.slice(0, TRAIL_LIMITS.text)
    else if (typeof value === 'boolean' || (typeof value === 'number' && Number.isFinite(value))) read[name] = value
    else continue
    taken++
  }
  return read
}
