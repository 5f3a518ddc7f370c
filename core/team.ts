import type { SentBackWhy } from '#core/events/kinds/sent-back'
import type { Hold } from '#core/scoring/label-held'
import type { Spots } from '#core/scoring/square'
import type { PointKind } from '#core/points/kinds'
import type { AnswerEnds } from '#core/results/ends'
import type { Relative } from '#core/stats/relative'
import type { DisplayRules } from '#core/appearing/schema'
import type { PropertyChange } from '#core/events/kinds/entry'
import type { Every, StepKind } from '#core/follow-up/state'
import type { LaneLoad, Load } from '#core/follow-up/team'
import type { Urgency } from '#core/follow-up/urgency'
import type { WaitingCost } from '#core/follow-up/waiting-cost'
import type { Closing } from '#core/points/closing'
import type { PageDefinition } from '#core/pages/definition'
import type { Answers, PointDefinition } from '#core/points/definition'
import type { Results } from '#core/results/results'
import type { PropertyValue } from '#core/properties/kinds'
import type { Role } from '#core/roles'
import type { PlanCheck } from '#core/routing/checks'
import type { PlanRunSums } from '#core/routing/dry-run'
import type { RoutingPlan } from '#core/routing/plan'
import type { WorkingHours } from '#core/working-time'
import type { Scope } from '#core/scopes'
import type { Sentence } from '#core/events/kind'
import type { Proof } from '#core/scoring/proof'
import type { ScoreMoment } from '#core/scoring/course'
import type { DryRunResult, Mover } from '#core/scoring/dry-run'
import type { Reason, Score } from '#core/scoring/lines'
import type { CardCheck } from '#core/scoring/checks'
import type { Scorecard } from '#core/scoring/scorecard'
import type { Proportion } from '#core/stats/proportion'
import type { ReadPage } from '#core/trail/visits'

/** What the team's routes answer and its screens show. Times are ISO 8601 texts. */

/** The figures of the course: one a stage, and how many people passed between stages in the last seven days. */
export interface Funnel {
  today: number
  entries: number
  qualified: number
  unowned: number
  waiting: number
  won: number
  passed: { toQualify: number; toRoute: number; toFollowUp: number; toLearn: number }
}

/** What is to be done next; `remind`: minutes before it is due at which its owner is reminded. */
export interface NextStepView {
  text: string
  due: string
  kind: StepKind
  remind: number[]
  every: Every | null
}

export interface LeadView {
  id: string
  name: string
  email: string | null
  firstName: string | null
  lastName: string | null
  company: string | null
  properties: Record<string, PropertyValue>
  tags: string[]
  label: string | null
  labelFloor: string | null
  /** How the label is held beside the score: at least or exactly, until when, by what, and why. */
  labelHeld: { how: Hold; until: string | null; reason: string; by: 'point' | 'person'; name: string; at: string } | null
  /** When the label changes if nothing happens, and to which; null: it stays. */
  labelNext: { at: string; label: string | null } | null
  fit: number
  interest: number
  reasons: Reason[]
  owner: { id: string; name: string } | null
  status: string
  statusAt: string
  nextStep: NextStepView | null
  waitingSince: string | null
  submitted: boolean
  urgency: Urgency | null
  /** When the promise will have run out; null: they do not wait, or nobody works that long. */
  answerBy: string | null
  /** Calls in a row that reached nobody. */
  tries: number
  /** How it ended last, before they came back, or stands now. */
  outcome: { status: string; at: string; reason?: string; value?: number; on?: string } | null
  /** When a parked lead wakes up. */
  wakesAt: string | null
  /** Its owner has to take it until then. */
  acceptBy: string | null
  /** Their address was claimed, and nobody has vouched for it. */
  guarded: boolean
  createdAt: string
  updatedAt: string
}

/** An address that was claimed for a lead and that nobody has judged. */
export interface ClaimView {
  id: string
  address: string
  at: string
  confirmed: boolean
}
/** One that was confirmed and that somebody has to judge. `own`: the address that the lead has; `elsewhere`: another lead that has this one. */
export interface ClaimToJudge {
  id: string
  lead: string
  name: string
  company: string | null
  own: string | null
  address: string
  confirmedAt: string
  elsewhere: string | null
}

/** A browser that a lead is known by. */
export interface BrowserView {
  visitorId: string
  since: string | null
  /** They confirmed an entry sent from it, or opened a mailed link in it. */
  proven: boolean
  device: string | null
  visits: number
  lastAt: string | null
}

/** A point that shows by itself on the site, as the team sees it. */
export interface SpeakerView {
  id: string
  key: string
  name: string
  title: string
  display: DisplayRules
}

/** Somebody who is on the site. */
export interface LiveVisitView {
  id: string
  site: string
  path: string
  title: string | null
  beganAt: string
  lastAt: string
  goneAt: string | null
  source: string
  device: string
  place: string | null
  language: string | null
  returning: boolean
  lead: { id: string; name: string; fit: number; interest: number; label: string | null; owner: string | null } | null
  pages: ReadPage[]
}

export interface NoticeView {
  id: string
  leadId: string | null
  listId: string | null
  at: string
  subject: string
  readAt: string | null
}

export interface PointListing {
  id: string
  key: string
  slug: string
  name: string
  kind: string
  title: string
  questions: number
  liveNumber: number | null
  changed: boolean
  updatedAt: string
  entries: number
  entriesWeek: number
  lastEntryAt: string | null
  closing: Closing | null
  stale: number
  /** What the live edition of a quiz sorts people into. */
  results: { key: string; title: string }[] | null
}
export interface PointView<D = PointDefinition> {
  /** Under which name it is found; null at the application's own address. */
  host: string | null
  id: string
  key: string
  slug: string
  name: string
  kind: string
  workingCopy: D
  revision: number
  updatedAt: string
  archivedAt: string | null
  live: { id: string; number: number; revision: number; madeAt: string; madeBy: string | null; definition: D } | null
  /** The moment at which the working copy of a revision goes live by itself, and why it could not when that had come. */
  goingLive: { at: string; revision: number; by: string | null; flaw: string | null } | null
  /** How people fared with the live edition: the median time they took, of how many; how many began, and how many finished. */
  pace: { seconds: number | null; entries: number; started: number; finished: number } | null
}

export interface PageListing {
  id: string
  key: string
  slug: string
  name: string
  title: string
  liveNumber: number | null
  changed: boolean
  updatedAt: string
  /** The form that stands on it. */
  point: { id: string; name: string } | null
  entries: number
  entriesWeek: number
  lastEntryAt: string | null
}

export interface EditionListing {
  number: number
  name: string | null
  madeAt: string
  madeBy: string | null
  live: boolean
  entries: number
}
/** A copy of a point that entries came through: what it is, where it stands, what it showed last. `stale`: it does not follow, and asks an old edition. */
export interface CopyView {
  via: string
  page: string | null
  edition: number
  entries: number
  lastAt: string
  stale: boolean
}
/** What would come of an entry to a working copy. When it would be set aside, nothing more is known. */
export interface RehearsalView {
  /** What a quiz came to; of a form nothing. */
  result: { title: string; marks: { earned: number; possible: number } | null } | null
  review: { state: 'held' | 'refused'; reason: string } | null
  person: { known: boolean; name: string; email: string | null; lead: string | null }
  changed: PropertyChange[]
  tags: string[]
  agreed: string[]
  fit: number
  interest: number
  reasons: Reason[]
  label: string | null
  because: 'score' | 'point' | 'person' | 'none' | null
  owner: string | null
  lane: string | null
  ownerBy: 'plan' | 'point' | 'person' | null
  nextStep: { text: string; due: string } | null
  notified: { to: string; subject: string }[]
  mails: { kind: 'confirm' | 'mail'; subject: string; text: string; days: number; waits: boolean }[]
  mail: { subject: string; text: string; lines: { label: string; text: string }[] } | null
}

/** How the variants of a live point do beside each other. `since`: when the first visitor saw one. */
export interface ExperimentView {
  experiment: string | null
  since: string | null
  variants: { key: string; seen: number; answered: number; rate: Proportion; best: number; loss: number }[]
}

/** An entry that was held or refused. */
export interface ReviewView {
  id: string
  at: string
  state: 'held' | 'refused'
  reason: string
  point: string
  pointId: string
  edition: number
  email: string | null
  page: string | null
  answers: { question: string; text: string }[]
}

/** Open leads by columns; `labels` are the keys that `label` counts by. */
export interface SquareView extends Spots {
  labels: string[]
  /** Fewer are shown than there are. */
  isCut: boolean
  /** Where they stood some days ago, by the same places; null for who was not there. */
  before: ([fit: number, interest: number] | null)[] | null
}
export interface QualifyView {
  scorecard: { number: number; definition: Scorecard; madeAt: string; madeBy: string | null } | null
  counts: { label: string | null; leads: number }[]
}

/** How well a card tells who comes to it, on people whom it was not made from. */
export interface ComparedCard {
  auc: number
  aucRange: [number, number]
  topShare: { share: number; captured: number }[]
}
/** A scorecard that was learned from what became of leads, or is being learned. */
export interface SuggestionView {
  id: string
  madeAt: string
  madeBy: string | null
  state: 'waiting' | 'working' | 'done' | 'failed'
  progress: number
  problem: string | null
  result: {
    rules: { sentence: string; points: number }[]
    crossValidated: ComparedCard
    live: ComparedCard | null
    rows: number
    positives: number
    notes: string[]
  } | null
}

/** Whether the scorecard told the truth; `cards`: by which editions people were scored then. */
export type ProofView = Proof & { cards: { number: number; leads: number }[] }

/** A lead's score over its life; `next`: when its label changes if nothing happens. */
export interface ScoreCourseView {
  moments: (ScoreMoment & { sentence: Sentence })[]
  next: { at: string; label: string | null } | null
}

/** Somebody who came to another label lately. */
export interface CrossedLine {
  lead: string
  name: string
  at: string
  from: string | null
  to: string | null
  why: string
}

/** What a rule of the live card does: how many leads carry a line of it, and how many points it gave since the month began. */
export interface RuleUse {
  leads: number
  points: number
}

/** Somebody of a dry run. */
export interface MovedPerson {
  lead: string
  name: string
  company: string | null
  owner: string | null
  status: string
  from: string | null
  to: string | null
  before: { fit: number; interest: number }
  after: { fit: number; interest: number }
}
export type NamedMover = Mover & { name: string; owner: string | null }
/** What another scorecard would make of the leads. */
export interface DryRunView {
  id: string
  at: string
  by: string | null
  revision: number
  who: { segment?: string; days?: number }
  state: 'waiting' | 'working' | 'done' | 'stopped' | 'failed'
  total: number | null
  done: number
  problem: string | null
  /** The edition that it is compared with. */
  card: number
  /** The working copy and the edition that is live are still those that it is about. */
  isCurrent: boolean
  result: (Omit<DryRunResult, 'gains' | 'losses'> & { gains: NamedMover[]; losses: NamedMover[] }) | null
}
export interface WhyUnderBoth {
  lead: string
  name: string
  live: Score & { label: string | null }
  tried: Score & { label: string | null }
}

/** The scorecard as those see it who work on it. */
export interface ScorecardView {
  /** It has none; what is worked on in the same way has. */
  name: ''
  workingCopy: Scorecard
  /** 0 before anybody changed anything. */
  revision: number
  live: { number: number; definition: Scorecard; madeAt: string; madeBy: string | null } | null
  /** The latest first. */
  editions: { number: number; madeAt: string; madeBy: string | null }[]
  changed: { at: string; by: string | null } | null
  /** The leads there are are being scored anew. */
  isTakingEffect: boolean
  checks: CardCheck[]
}

/** The routing plan as those see it who work on it. */
export interface PlanView {
  name: ''
  workingCopy: RoutingPlan
  /** 0 before anybody changed anything. */
  revision: number
  live: { number: number; definition: RoutingPlan; madeAt: string; madeBy: string | null } | null
  /** The latest first. */
  editions: { number: number; madeAt: string; madeBy: string | null }[]
  changed: { at: string; by: string | null } | null
  checks: PlanCheck[]
}

export interface AbsenceView {
  id: string
  /** Moments, half-open. */
  from: string
  until: string
  /** The same in days, in the zone in which they work. */
  firstDay: string
  lastDay: string
  standIn: string | null
}
/** Somebody who may be given leads, or has some. */
export interface RoutedView {
  id: string
  hours: WorkingHours
  mostOpen: number | null
  languages: string[]
  /** Those that are not over, as they come. */
  absences: AbsenceView[]
  open: number
  waiting: number
  /** How many leads they got in the last seven days. */
  week: number
  oldestWaiting: string | null
}
export interface RouteView {
  turns: { lane: string; memberId: string; given: number; credit: number; lastAt: string | null }[]
  people: RoutedView[]
}

export interface YieldView {
  key: string
  name: string
  leads: number
  qualified: number
  won: number
  lost: number
  qualifiedRate: Proportion
  wonRate: Proportion
}
export interface ReportsView {
  days: number
  points: YieldView[]
  sources: YieldView[]
  byDay: { day: string; leads: number; qualified: number }[]
}

export interface KeyView {
  id: string
  name: string
  hint: string
  createdAt: string
  lastUsedAt: string | null
  createdBy: string | null
  scopes: Scope[]
  expiresAt: string | null
}

export interface ColleagueView {
  id: string
  email: string
  name: string
  role: Role
  active: boolean
  sessions: number
  seenAt: string | null
}

/** What came of a form or page, of one group of people and days, or of two. `behind`: not all is counted yet. */
export interface ResultsView {
  name: string
  kind: PointKind
  slug: string
  /** The latest first. */
  editions: { number: number; publishedAt: string }[]
  definition: PointDefinition | PageDefinition
  groups: (Results & { behind: boolean })[]
}

/** Who answered, the latest first. */
export interface RespondentsView {
  more: boolean
  respondents: {
    id: string
    at: string
    lead: string
    name: string
    company: string | null
    label: string | null
    edition: number
    page: string | null
    tookMs: number | null
    answers: Answers
  }[]
}

/** Which answers go with becoming qualified or won, and how many of those who answered at all did. A ratio is null where too few did. */
export interface EndsView {
  people: number
  qualified: number
  won: number
  rows: (Omit<AnswerEnds, 'toQualified' | 'toWon'> & { toQualified: Relative | null; toWon: Relative | null })[]
}

/** What of the points concerns a marketer today. */
export interface PointsTodayView {
  /** Since when entries are counted: the beginning of yesterday. */
  since: string
  came: { id: string; name: string; kind: PointKind; entries: number; held: number }[]
  live: { id: string; name: string; kind: PointKind; number: number; at: string; by: string | null }[]
  stale: { id: string; name: string; page: string | null; edition: number; live: number; at: string }[]
  undelivered: { id: string; name: string; mails: number }[]
  broken: { id: string; name: string; kind: PointKind; why: string }[]
}

/** The board: of each status that is worked on, some leads, and the days that nine in ten won ones stood there at most. */
export interface BoardView {
  columns: {
    status: string
    total: number
    range: { low: number; high: number } | null
    leads: { id: string; name: string; company: string | null; fit: number; interest: number; days: number }[]
  }[]
  /** How many leads stand at each end, by the status's key. */
  ends: Record<string, number>
}

/** What is to be done within some time: next steps, and meetings, which have an end. `hasFeed`: one's own calendar can be read from outside. */
export interface CalendarView {
  hasFeed: boolean
  items: {
    lead: string
    name: string
    company: string | null
    owner: string | null
    text: string
    kind: StepKind
    at: string
    until: string | null
  }[]
}

/** Somebody on one's Today, with what an hour of working time more would lose of a win: 0.01 is one win in a hundred such people. */
export interface TodayLead extends LeadView {
  loss: number
  /** Their answer to a mail of ours, where that is what waits. */
  reply: { at: string; subject: string } | null
}
/** One's own day. */
export interface TodayView {
  /** Who waits for an answer, in the order of what is lost by waiting. */
  waiting: TodayLead[]
  /** Whose next step is due until tonight: late ones in the same order, then the others by their time. */
  due: TodayLead[]
  /** What the order is worked out from. */
  cost: WaitingCost
  /** Entries that wait for a judgement; null for who may not judge. */
  review: number | null
}

/** Who was sent back, beside all who were given to somebody in that time. Leads by their ids: every figure opens its people. */
export interface SentBackView {
  days: number
  total: number
  given: number
  byWhy: { key: SentBackWhy; leads: string[] }[]
  byRule: SentBackLine[]
  byPoint: SentBackLine[]
}
export interface SentBackLine {
  key: string
  name: string
  leads: string[]
  given: number
  rate: Proportion
}

/** Whose leads somebody else should look after. */
export interface HandOnView {
  people: {
    id: string
    name: string
    why: 'left' | 'away' | 'soon'
    open: number
    from: string | null
    until: string | null
    standIn: string | null
  }[]
}
export interface HandOnLead {
  id: string
  name: string
  company: string | null
  label: string | null
  fit: number
  status: string
  waitingSince: string | null
  nextStep: string | null
  due: string | null
}

/** A firm: its people, and what happened with them. */
export interface FirmView {
  name: string
  /** Of its people's addresses; null: a provider's, or none is known. */
  domain: string | null
  people: LeadView[]
  happened: { lead: { id: string; name: string }; id: string; at: string; actor: string | null; sentence: Sentence }[]
  /** Of so many of its people is told what happened. */
  toldOf: number
}

/** The team this morning. Leads by their ids: every figure opens its people. */
export interface TeamTodayView {
  /** Promises are counted from this day on. */
  since: string
  people: Load[]
  lanes: LaneLoad[]
  /** Who has left and still has open leads. */
  orphans: { member: string; name: string; open: number }[]
  away: { member: string; standIn: string | null; until: string }[]
  unowned: number
  untouched: string[]
  untouchedDays: number
}

/** Leads of the past through the working copy of the plan (`draft`), and through the plan that is live. */
export interface PlanRunView {
  /** Of the working copy. */
  revision: number
  /** How people answered in the past: half of them within so many working minutes; null: everybody together. */
  paces: { member: string | null; minutes: number; answers: number }[]
  run: {
    id: string
    at: string
    by: string | null
    days: number
    speed: number
    state: 'waiting' | 'working' | 'done' | 'stopped' | 'failed'
    total: number | null
    done: number
    problem: string | null
    result: { live: PlanRunSums | null; draft: PlanRunSums } | null
    /** The working copy and the edition that is live are still those that it is about. */
    isCurrent: boolean
  } | null
}
export interface PlanRunPeople {
  total: number
  leads: {
    lead: string
    name: string
    company: string | null
    member: string | null
    lane: string | null
    came: string
    at: string
    late: boolean
    kept: number | null
  }[]
}
