import type { ActivityTest } from '#core/conditions/condition'
import type { PersonKey } from '#core/identity/same-person'
import { withMoments, withVisits, type Beside } from '#core/leads/beside'
import { whoKey, type Book, type News } from '#core/leads/book'
import { joinBrowser, type Joined, type Span } from '#core/leads/join-browser'
import type { LeadState } from '#core/leads/lead'
import { nothingBeside, type Needs } from '#core/leads/needs'
import { entryAttributes, isLike, type PastActivity } from '#core/leads/past'
import type { Activity } from '#core/scoring/score'

/** What was loaded of some leads. */
export interface Loaded {
  leads: LeadState[]
  /** By which other keys they were found. */
  keys?: (PersonKey & { lead: string })[]
  needs: Needs
  ofLeads: Map<string, Beside>
  ofVisitors?: Map<string, Beside>
  activities?: Map<string, Activity[]>
  spans?: Map<string, Span[]>
}

/** Something that a cause of the batch added to what a lead did, of which the database has not heard yet. */
interface Added {
  acts: PastActivity[]
  browsers: Beside[]
  on: Set<string>
  off: Set<string>
}

/**
 * The book of a batch. It may be filled in parts: what an earlier part has changed stays, for the database may not have heard of
 * it yet: the book is right.
 */
export function openBook(needs: Needs, newId: (at: number) => string) {
  const all: Needs = { beside: new Set(needs.beside), tests: new Map(needs.tests) }
  const byId = new Map<string, LeadState>()
  const leads = new Map<string, LeadState>()
  const loaded = new Map<string, Beside>()
  const nobodys = new Map<string, Beside>()
  const activities = new Map<string, Activity[]>()
  const spans = new Map<string, Span[]>()
  const added = new Map<string, Added>()
  const joined: Joined[] = []

  const addedTo = (lead: string): Added =>
    added.get(lead) ?? added.set(lead, { acts: [], browsers: [], on: new Set(), off: new Set() }).get(lead)!

  function learn({
    leads: some,
    keys = [],
    needs: more,
    ofLeads,
    ofVisitors = new Map(),
    activities: done = new Map(),
    spans: whose = new Map(),
  }: Loaded): void {
    for (const need of more.beside) all.beside.add(need)
    for (const [key, test] of more.tests) all.tests.set(key, test)
    for (const lead of some) if (!byId.has(lead.id)) byId.set(lead.id, lead)
    for (const { id, emailKey } of some) if (emailKey !== null) addNew(leads, whoKey({ rule: 'email', key: emailKey }), byId.get(id)!)
    for (const { lead, ...who } of keys) if (byId.has(lead)) addNew(leads, whoKey(who), byId.get(lead)!)
    // Of a lead that an earlier part had loaded, only what it did not ask for.
    for (const [id, own] of ofLeads) {
      const before = loaded.get(id)
      loaded.set(id, before ? { ...own, ...before, moments: new Map([...own.moments, ...before.moments]) } : own)
    }
    for (const [id, own] of ofVisitors) addNew(nobodys, id, own)
    for (const [id, own] of done) addNew(activities, id, own)
    for (const [id, own] of whose) addNew(spans, id, own)
  }

  function beside(lead: LeadState): Beside {
    const base = loaded.get(lead.id) ?? nothingBeside(all)
    const news = added.get(lead.id)
    if (!news) return base
    const entered = news.acts.filter(a => a.kind === 'entry').map(a => a.at)
    return {
      ...(base.lists && { lists: [...new Set([...base.lists.filter(l => !news.off.has(l)), ...news.on])] }),
      ...(base.lastEntryAt !== undefined && {
        lastEntryAt: entered.length ? Math.max(base.lastEntryAt ?? -Infinity, ...entered) : base.lastEntryAt,
      }),
      ...(base.visits && { visits: news.browsers.reduce((visits, b) => (b.visits ? withVisits(visits, b.visits) : visits), base.visits) }),
      moments: new Map(
        [...base.moments].map(([key, moments]) => {
          const test = all.tests.get(key)!
          return [key, withMoments(test, moments, acted(test, news.acts), ...news.browsers.map(b => b.moments.get(key) ?? []))]
        }),
      ),
    }
  }

  function add(lead: LeadState, news: News): void {
    const own = addedTo(lead.id)
    if ('entry' in news)
      own.acts.push({ kind: 'entry', at: news.entry.at, attributes: entryAttributes(news.entry.point, news.entry.answers) })
    else if ('lists' in news) {
      for (const id of news.lists.on) {
        own.off.delete(id)
        own.on.add(id)
      }
      for (const id of news.lists.off) {
        own.on.delete(id)
        own.off.add(id)
      }
    } else {
      // Once they are counted for somebody they are nobody else's, in this batch as in the database.
      const browser = nobodys.get(news.visitor)
      if (browser) own.browsers.push(browser)
      nobodys.delete(news.visitor)
    }
  }

  const book: Book = {
    leads,
    byId,
    beside,
    add,
    taken: new Map(),
    activitiesOf(visitor) {
      const own = activities.get(visitor) ?? []
      activities.delete(visitor)
      return own
    },
  }
  return {
    book,
    learn,
    joined,
    /** A browser is a lead's from a moment on. */
    join(visitor: string, lead: string, at: number): void {
      joined.push(joinBrowser(spans.get(visitor) ?? [], visitor, lead, at, newId))
    },
  }
}
export type OpenBook = ReturnType<typeof openBook>

/** When acts were done that a test asks for. */
const acted = (test: ActivityTest, acts: PastActivity[]): number[] =>
  acts.flatMap(act => (act.kind === test.did && isLike(act, test.where, act.at) ? [act.at] : []))

const addNew = <V>(map: Map<string, V>, key: string, value: V): void => void (map.has(key) || map.set(key, value))
