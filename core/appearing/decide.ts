import { holds, type Attributes } from '#core/conditions/condition'
import { hasOrder, isUninvited, type DisplayRules, type Moment, type PublicDisplayRules } from '#core/appearing/definition'

/** What is known in the browser, at a moment. `Date`s are milliseconds since 1970. */
export interface Situation {
  page: { address: string; path: string; title: string; query: Record<string, string> }
  /** Since the page was opened, and since anything was done on it. */
  seconds: number
  idle: number
  /** Percent of the page that was scrolled past. */
  scrolled: number
  leaving: boolean
  pages: number
  clicked: string[]
  events: string[]
  visitor: { returning: boolean; source: string; language: string; device: string }
  small: boolean
  /** In the house's zone: the ISO day, the weekday from 1 (Monday), the hour. */
  day: string
  weekday: number
  hour: number
  now: number
  typing: boolean
}
/** What this browser remembers of a point. */
export interface Memory {
  closedAt?: number
  answeredAt?: number
  shown?: number
}
export const RULES = ['pages', 'except', 'moment', 'audience', 'period', 'rest', 'small', 'typing'] as const
/** A rule and whether it holds now. `why.ts` says it in words. */
export interface Verdict {
  rule: (typeof RULES)[number]
  holds: boolean
}

const DAY = 86_400_000

/** The attributes that conditions on pages and audience may ask about. @param ours what the server said of the tests that only it can judge */
export const attributesOf =
  ({ page, visitor }: Situation, ours: boolean[]): Attributes =>
  name => {
    if (name.startsWith('server.')) return ours[Number(name.slice(7))] ? 'yes' : 'no'
    if (name.startsWith('page.query.')) return Object.hasOwn(page.query, name.slice(11)) ? page.query[name.slice(11)] : undefined
    switch (name) {
      case 'page.address':
        return page.address
      case 'page.path':
        return page.path
      case 'page.title':
        return page.title
      case 'visitor.returning':
        return visitor.returning ? 'yes' : 'no'
      case 'visit.source':
        return visitor.source
      case 'visit.device':
        return visitor.device
      case 'visit.language':
        return visitor.language
    }
  }

/**
 * Every rule of an appearance with whether it holds now.
 * @param ours what the server said of the tests that only it can judge
 */
export function verdicts(a: Omit<DisplayRules, 'on'>, s: Situation, memory: Memory, ours: boolean[]): Verdict[] {
  const attributes = attributesOf(s, ours)
  const came = a.moments.map(m => hasCome(m, s))
  const { from, until, days, hours } = a.period
  const uninvited = isUninvited(a.placement)
  const how: Record<(typeof RULES)[number], boolean> = {
    pages: !a.pages || holds(a.pages, attributes),
    except: !a.except || !holds(a.except, attributes),
    moment: !came.length || (a.together === 'all' ? came.every(Boolean) : came.some(Boolean)),
    audience: !a.audience || holds(a.audience, attributes),
    period:
      (!from || s.day >= from) &&
      (!until || s.day <= until) &&
      (!days.length || days.includes(s.weekday)) &&
      (!hours || isWithin(s.hour, hours)),
    rest:
      (!memory.closedAt || s.now - memory.closedAt >= a.rest.closed * DAY) &&
      (!memory.answeredAt || (a.rest.answered !== null && s.now - memory.answeredAt >= a.rest.answered * DAY)) &&
      (!uninvited || (memory.shown ?? 0) < a.rest.perVisit),
    small: !s.small || a.small || !uninvited,
    typing: !s.typing || !uninvited,
  }
  return RULES.map(rule => ({ rule, holds: how[rule] }))
}

/** Hours that may go past midnight: from 20 until 6. */
const isWithin = (hour: number, [from, until]: [number, number]) =>
  from <= until ? hour >= from && hour < until : hour >= from || hour < until

function hasCome(m: Moment, s: Situation): boolean {
  switch (m.kind) {
    case 'seconds':
      return s.seconds >= m.n
    case 'scrolled':
      return s.scrolled >= m.n
    case 'idle':
      return s.idle >= m.n
    case 'pages':
      return s.pages >= m.n
    case 'leaving':
      return s.leaving
    case 'click':
      return s.clicked.includes(m.what)
    case 'event':
      return s.events.includes(m.what)
  }
}

/**
 * Who speaks in the place of a point that could: the first before it in the order whose rules all hold; null when nobody does.
 * @param list in the order that the team decided, as the rules apply; a point that is not in it comes last
 */
export function speaksInstead<A extends Omit<DisplayRules, 'on'> & { key: string }>(
  list: A[],
  key: string,
  placement: DisplayRules['placement'],
  s: Situation,
  memoryOf: (key: string) => Memory,
  ours: (a: A) => boolean[],
): A | null {
  if (!hasOrder(placement)) return null
  const at = list.findIndex(a => a.key === key)
  const rivals = (a: A) => hasOrder(a.placement) && isUninvited(a.placement) === isUninvited(placement)
  return (
    list.slice(0, at < 0 ? list.length : at).find(a => rivals(a) && verdicts(a, s, memoryOf(a.key), ours(a)).every(v => v.holds)) ?? null
  )
}

/**
 * Who speaks now: the first of those that come uninvited and whose rules all hold, unless one is open;
 * the first that has a floating button; and all that stand in the text or behind a button of the page.
 * @param list in the order that the team decided
 */
export function speakers(
  list: PublicDisplayRules[],
  s: Situation,
  memoryOf: (key: string) => Memory,
  ours: (a: PublicDisplayRules) => boolean[],
  open: boolean,
): PublicDisplayRules[] {
  const ready = list.filter(a => verdicts(a, s, memoryOf(a.key), ours(a)).every(v => v.holds))
  const first = open ? undefined : ready.find(a => isUninvited(a.placement))
  // The tab of a chat stands beside whatever button floats.
  const isTab = (a: PublicDisplayRules) => Boolean(a.chat) && a.placement === 'float'
  const floating = ready.find(a => a.placement === 'float' && !isTab(a))
  return ready.filter(a => a === first || a === floating || isTab(a) || !hasOrder(a.placement))
}
