import { visitorAttribute } from '#core/appearing/attributes'
import type { ActivityKind, Askable } from '#core/conditions/condition'
import type { DeedKind } from '#core/scoring/deeds'
import { attributeOf } from '#core/leads/attributes/registry'

const KEY = /^[a-z][a-z0-9_]{0,49}$/
const behind = (attribute: string, prefix: string, like = KEY) =>
  attribute.startsWith(prefix) && isOwn(attribute.slice(prefix.length)) && like.test(attribute.slice(prefix.length))
const isOwn = (name: string) => !(name in Object.prototype)
const NAME = /^[\p{L}\p{N}_. -]{1,60}$/u

const PAGE = new Set(['page.path', 'page.title'])
const VISIT = new Set(['visit.source', 'visit.device', 'visit.language', 'visit.place', 'visit.pages'])
const ON_POINT = new Set(['point', 'question', ...PAGE])
const ofEvent = (attribute: string) => attribute === 'event' || behind(attribute, 'event.', NAME)
const ofEntry = (attribute: string) => attribute === 'point' || isAnswer(attribute)
/** What a quiz made of the answers (`core/quiz/attributes`). */
const isOfQuiz = (attribute: string) => ['quiz.result', 'quiz.share', 'quiz.points'].includes(attribute)
const isAnswer = (attribute: string) => behind(attribute, 'answer.')

const ACTIVITIES: Record<ActivityKind, (attribute: string) => boolean> = {
  page: attribute => PAGE.has(attribute),
  visit: attribute => VISIT.has(attribute) || behind(attribute, 'utm.', NAME),
  entry: ofEntry,
  unfinished: attribute => attribute === 'form' || ofEntry(attribute),
  seen: attribute => ON_POINT.has(attribute),
  started: attribute => ON_POINT.has(attribute),
  left: attribute => ON_POINT.has(attribute),
  finished: attribute => ON_POINT.has(attribute),
  mark: attribute => attribute === 'mark' || PAGE.has(attribute),
  file: attribute => attribute === 'file' || PAGE.has(attribute),
  event: attribute => ofEvent(attribute) || PAGE.has(attribute),
}

const isPerson = (attribute: string) => attributeOf(attribute) !== undefined
const isPage = (attribute: string) => visitorAttribute(attribute)?.about === 'page'
const or =
  (own: (attribute: string) => boolean): Askable =>
  (attribute, did) =>
    did ? ACTIVITIES[did](attribute) : own(attribute)
const only =
  (own: (attribute: string) => boolean): Askable =>
  (attribute, did) =>
    did === null && own(attribute)

/** A lead and what they did: segments, lanes. */
export const ABOUT_PERSON = or(isPerson)
/** The same, for what makes the score itself: it must not ask for the score. */
export const ABOUT_FIT = or(attribute => isPerson(attribute) && !attributeOf(attribute)!.isOfScore)
/** The same, and the entry in hand: who is told. */
export const ABOUT_ENTRY = or(attribute => isPerson(attribute) || isAnswer(attribute) || isOfQuiz(attribute))
/** Answers so far: when a question is asked. */
export const ABOUT_ANSWERS = only(isAnswer)
/** The page that somebody is on. */
export const ABOUT_PAGE = only(isPage)
/** Who sees a point: the page, the browser, and the person behind it. */
export const ABOUT_VISITOR = or(attribute => isPerson(attribute) || visitorAttribute(attribute) !== undefined)
/** One activity that earns interest, by what it is. */
export const ABOUT_ACTIVITY: Record<DeedKind, Askable> = {
  entry: only(attribute => ofEntry(attribute) || isOfQuiz(attribute)),
  page_view: only(attribute => PAGE.has(attribute)),
  event: only(ofEvent),
  clicked: only(attribute => attribute === 'mail.subject'),
  meeting: only(() => false),
}
