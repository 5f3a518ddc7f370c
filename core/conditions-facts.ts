import type { DeedKind } from '#core/conditions'

/**
 * What can be asked, by who is asked about. A condition is read against one of these, so that a fact that nobody knows is
 * refused where it is written, and never looked up among what every object has.
 * @param did the deed whose `where` asks; null outside of one
 */
export type Askable = (fact: string, did: DeedKind | null) => boolean

const KEY = /^[a-z][a-z0-9_]{0,49}$/
const behind = (fact: string, prefix: string, like = KEY) => fact.startsWith(prefix) && isOwn(fact.slice(prefix.length)) && like.test(fact.slice(prefix.length))
const isOwn = (name: string) => !(name in Object.prototype)
const NAME = /^[\p{L}\p{N}_. -]{1,60}$/u

const PERSON_FACTS = new Set([
  'label', 'tag', 'list', 'segment', 'status', 'status_since', 'owner', 'created', 'waiting', 'given', 'fit', 'interest', 'last_entry', 'last_visit', 'source.first', 'source.latest',
])
const PAGE = new Set(['page.path', 'page.title'])
const VISIT = new Set(['visit.source', 'visit.device', 'visit.language', 'visit.place', 'visit.pages'])
const ON_POINT = new Set(['point', 'question', ...PAGE])
const ofEvent = (fact: string) => fact === 'event' || behind(fact, 'event.', NAME)
const ofEntry = (fact: string) => fact === 'point' || isAnswer(fact)
const isAnswer = (fact: string) => behind(fact, 'answer.')

const DEEDS: Record<DeedKind, (fact: string) => boolean> = {
  page: fact => PAGE.has(fact), visit: fact => VISIT.has(fact) || behind(fact, 'utm.', NAME), entry: ofEntry, unfinished: fact => fact === 'form' || ofEntry(fact),
  seen: fact => ON_POINT.has(fact), started: fact => ON_POINT.has(fact), left: fact => ON_POINT.has(fact), finished: fact => ON_POINT.has(fact),
  mark: fact => fact === 'mark' || PAGE.has(fact), file: fact => fact === 'file' || PAGE.has(fact), event: fact => ofEvent(fact) || PAGE.has(fact),
}

const isPerson = (fact: string) => PERSON_FACTS.has(fact) || behind(fact, 'property.')
const isPage = (fact: string) => PAGE.has(fact) || fact === 'page.address' || behind(fact, 'page.query.', NAME)
const or = (own: (fact: string) => boolean): Askable => (fact, did) => did ? DEEDS[did](fact) : own(fact)
const only = (own: (fact: string) => boolean): Askable => (fact, did) => did === null && own(fact)

/** A lead and what they did: segments, fit, lanes. */
export const ABOUT_PERSON = or(isPerson)
/** The same, and the entry in hand: who is told. */
export const ABOUT_ENTRY = or(fact => isPerson(fact) || isAnswer(fact))
/** Answers so far: when a question is asked. */
export const ABOUT_ANSWERS = only(isAnswer)
/** The page that somebody is on. */
export const ABOUT_PAGE = only(isPage)
/** Who sees a point: the page, the browser, and the person behind it. */
export const ABOUT_VISITOR = or(fact => isPage(fact) || isPerson(fact) || VISIT.has(fact) || fact === 'visitor.returning' || fact === 'visitor.known' || fact === 'answered')
/** One deed that earns interest, by what it is. */
export const ABOUT_DEED: Record<'entry' | 'page_view' | 'event', Askable> = { entry: only(fact => fact === 'point'), page_view: only(fact => PAGE.has(fact)), event: only(ofEvent) }
