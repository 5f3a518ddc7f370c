import type { Condition } from '#core/conditions/condition'
import { NotLoaded, type Beside } from '#core/leads/beside'
import type { About } from '#core/leads/attributes/attribute'
import type { Cause } from '#core/leads/causes'
import type { LeadState } from '#core/leads/lead'
import type { PersonKey } from '#core/identity/same-person'
import type { Colleague } from '#core/routing/colleagues'
import type { RoutingPlan, Lane } from '#core/routing/plan'
import type { Scorecard } from '#core/scoring/scorecard'
import type { ReasonLine } from '#core/scoring/lines'
import type { Activity } from '#core/scoring/score'
import type { Sign } from '#core/points/written'
import type { Snapshot } from '#core/follow-up/undo'
import type { Told } from '#core/telling/telling'
import type { Role } from '#core/roles'
import type { Stage } from '#core/vocabulary'
import type { WorkingHours } from '#core/working-time'
import type { Changes, EventName, EventPayloads } from '#core/events/registry'

/** The rules that leads are changed by, as they are live; conditions with their segments written out. */
export interface Rules {
  scorecard: Scorecard
  /** The number of its edition. */
  card: number
  /** Label keys, lowest first. */
  labels: string[]
  /** Labels that were joined with others, and those they mean now. */
  joinedLabels?: ReadonlyMap<string, string>
  /** The lists that there are, by their ids. */
  lists: ReadonlySet<string>
  plan: RoutingPlan
  members: ReadonlyMap<string, Colleague & { name: string; email: string; role: Role }>
  firstStatus: string
  /** The status of who is worked on again. */
  wakeStatus: string
  /** The stage of each status, by its key. */
  stages: ReadonlyMap<string, Stage>
  /** What each label promises, in working minutes. */
  targets: ReadonlyMap<string, number>
  /** When the firm works: of who has no owner. */
  hours: WorkingHours
  /** A condition with its segments written out. */
  whole: (condition: Condition) => Condition
}

/** What is made from outside: core has no dice and signs nothing. */
export interface Tools {
  /** A new id that sorts by time: milliseconds since 1970. */
  newId: (at: number) => string
  /** The signed addresses that stand in mails. */
  sign: Sign
}

/** The leads that some causes may touch, with what was loaded of them; locked while they are worked on. */
export interface Book {
  /** By `email` and the key of their address, and by the rules in use and their keys (`whoKey`). New ones are added. */
  leads: Map<string, LeadState>
  byId: Map<string, LeadState>
  /** What stands beside a lead at a moment, with what causes of the batch have added. */
  beside: (lead: LeadState) => Beside
  /** A cause adds something that conditions may ask for. */
  add: (lead: LeadState, news: News) => void
  /** What a browser did before its person told who they are, not yet counted for anyone. */
  activitiesOf: (visitor: string) => Activity[]
  /** Complete entries by point, of points that close after a number of them. Counted up here. */
  taken: Map<string, number>
}

/** What a cause adds beside the lead. */
export type News =
  | { entry: { at: number; point: string; answers: Record<string, string | string[]> } }
  | { visitor: string }
  | { lists: { on: string[]; off: string[] } }

/** How leads are found in the book. */
export const whoKey = (k: PersonKey): string => `${k.rule} ${k.key}`

/** What came of a cause for a lead: the lead as it is now, and what is to be told of it. */
export interface Step {
  cause: Cause['kind']
  at: number
  /** Who did it, of us; null: nobody of us. */
  actor: string | null
  lead: LeadState
  /** The lead is new by this. */
  fresh: boolean
  /** Something about the lead was changed, or a person acted: it counts as changed now. */
  changed: boolean
  /** The owner is new by this. */
  owned: boolean
  /** The lines of its score before this. */
  linesBefore: ReasonLine[]
  /** Its score is another one by this, and not by time alone. */
  scored: boolean
  lists: { on: string[]; off: string[] }
  /** What the lead's lines make at the time of the cause; `sum` is the interest before it is rounded. */
  score: { fit: number; interest: number; sum: number }
  /** The earliest moment at which its label or a fit rule may change with nobody doing anything; Infinity: none. */
  judgeAt: number
  /** Whom the cause wants to answer for a lead that nobody answers for, and what says so. */
  wished: { owner: string; point: string } | null
  /** The lanes that may give it an owner, of whom one is still to be chosen; null: it needs none, or has one. */
  lanes: Lane[] | null
  /** Who has it until somebody else is found for it; null: nobody has to go. */
  leaving: string | null
  /** How it stood before an act that can be taken back. */
  before: Snapshot | null
  /** The version of the event that was taken back. */
  undone: number | null
  /** In which language they wrote, where that is known. */
  language: string | null
  /** What happened, by kind. */
  changes: Changes
  notices: Notice[]
}

/** What a member is told about a lead, at the bell and, where that is wanted, by mail. */
export interface Notice {
  id: string
  to: string
  subject: string
  text: string
  mail: boolean
  /** What it is about, as members choose by; by itself that they are given somebody. */
  topic?: Told
  entry?: string
  meeting?: string
}

export const newStep = (cause: Cause, lead: LeadState, fresh: boolean): Step => ({
  cause: cause.kind,
  at: cause.at,
  actor: cause.by,
  lead,
  fresh,
  changed: true,
  owned: false,
  linesBefore: lead.reasons,
  scored: false,
  lists: { on: [], off: [] },
  score: { fit: 0, interest: 0, sum: 0 },
  judgeAt: Infinity,
  wished: null,
  lanes: null,
  leaving: null,
  before: null,
  undone: null,
  language: null,
  changes: {},
  notices: [],
})

/** Notes what the cause changed. @throws when it has changed the same before: of each kind a cause has one */
export function tell<K extends EventName>(step: Step, kind: K, payload: EventPayloads[K]): void {
  if (kind in step.changes) throw new Error(`The cause ${step.cause} has “${kind}” twice.`)
  step.changes[kind] = payload as Changes[K]
}

/** Puts a lead on lists that there are, and takes it from others, where it is not already so; whoever judges it next finds it so. */
export function putOn(rules: Rules, book: Book, step: Step, wished: Step['lists']): void {
  if (!wished.on.length && !wished.off.length) return
  const before = book.beside(step.lead).lists
  if (!before) throw new NotLoaded('lists')
  const lists = {
    on: wished.on.filter(id => rules.lists.has(id) && !before.includes(id)),
    off: wished.off.filter(id => before.includes(id)),
  }
  step.lists = lists
  if (!lists.on.length && !lists.off.length) return
  tell(step, 'lists', lists)
  book.add(step.lead, { lists })
}

/** A lead as conditions ask about it, at the time of a cause. */
export const aboutStep = (rules: Rules, book: Book, { lead, at }: Pick<Step, 'lead' | 'at'>): About => ({
  lead,
  beside: book.beside(lead),
  now: at,
  halfLifeDays: rules.scorecard.halfLifeDays,
})

/** A lead of whom nothing is known but how to reach them. */
export const blankLead = (id: string, email: { address: string; key: string } | null, status: string, at: number): LeadState => ({
  id,
  email: email?.address ?? null,
  emailKey: email?.key ?? null,
  firstName: null,
  lastName: null,
  company: null,
  properties: {},
  tags: [],
  label: null,
  labelFloor: null,
  labelHeld: null,
  reasons: [],
  ownerId: null,
  lane: null,
  routeAt: null,
  status,
  statusAt: at,
  waitingSince: null,
  nextStep: null,
  nextStepAt: null,
  followUp: {},
  confirmedAt: null,
  unsubscribedAt: null,
  createdAt: at,
  submittedAt: null,
  guardedAt: null,
  version: 0,
  counted: {},
  claims: [],
})
