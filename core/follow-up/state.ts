/** What has to be kept of a lead's follow-up beside its status, owner and next step. Times in milliseconds since 1970. */
export interface FollowUp {
  /** How the next step is to be done, and when somebody is reminded of it. */
  step?: StepHow
  /** Reminders of it until this moment have been given. */
  reminded?: number
  /** Calls in a row that reached nobody. */
  tries?: number
  /** How it ended last; it stays when they write again. */
  outcome?: Outcome
  /** When a parked lead wakes up by itself. */
  wakeAt?: number
  /** How far the running out of the promise has been told: of whom waits since `since`, so many steps. */
  told?: { since: number; steps: number }
  /** Whoever was given it has to accept by then, or it goes back. */
  accept?: { from: string | null; until: number }
}

export const STEP_KINDS = ['call', 'mail', 'meeting', 'visit', 'other'] as const
export type StepKind = (typeof STEP_KINDS)[number]
export const EVERY = ['day', 'week', 'fortnight', 'month', 'quarter', 'year'] as const
/** How often something is to be done again. */
export type Every = (typeof EVERY)[number]

export interface StepHow {
  kind: StepKind
  /** Minutes before it is due at which its owner is reminded; 0: at the time. */
  remind?: number[]
  every?: Every
}

/** How a lead's follow-up ended, or was put off. */
export interface Outcome {
  /** The status's key. */
  status: string
  at: number
  reason?: string
  /** In the smallest unit of the house's currency. */
  value?: number
  /** The day on which it was agreed (`2026-05-01`). */
  on?: string
}

/** What a status may ask for: why, how much, on which day, until when. */
export const ASKS = ['reason', 'value', 'day', 'until'] as const
export type Ask = (typeof ASKS)[number]

/** What came of a call. Only who was reached was answered; whether a try counts, the plan says. */
export const CALL_RESULTS = ['reached', 'left_message', 'not_reached', 'wrong_number'] as const
export type CallResult = (typeof CALL_RESULTS)[number]
/** The results in the interface's words. */
export const CALL_WORDS: Record<CallResult, string> = {
  reached: 'Reached',
  left_message: 'Left a message',
  not_reached: 'Not reached',
  wrong_number: 'Wrong number',
}
export const STEP_WORDS: Record<StepKind, string> = {
  call: 'Call',
  mail: 'Mail',
  meeting: 'Meeting',
  visit: 'Visit',
  other: 'Something else',
}
export const EVERY_WORDS: Record<Every, string> = {
  day: 'every day',
  week: 'every week',
  fortnight: 'every other week',
  month: 'every month',
  quarter: 'every three months',
  year: 'every year',
}

/** Who is told while a promise runs out, one after the other, and at which share of it, in percent. */
export const LOW_STEPS = ['owner', 'manager', 'onward'] as const
export type LowStep = (typeof LOW_STEPS)[number]
