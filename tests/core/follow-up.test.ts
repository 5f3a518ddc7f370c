import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nextOf, nextReminder } from '#core/follow-up/steps'
import { EVERY } from '#core/follow-up/state'
import { takeBack, snapshotOf, changedSince } from '#core/follow-up/undo'
import { applyBatch } from '#core/leads/apply'
import { blankLead, type Rules, type Step, type Tools } from '#core/leads/book'
import type { LeadCause } from '#core/leads/causes'
import { eventOf } from '#core/leads/event-of'
import type { LeadState } from '#core/leads/lead'
import { needsOf } from '#core/leads/needs'
import { openBook } from '#core/leads/open-book'
import { give } from '#core/leads/stages'
import { sameHours } from '#core/working-time'
import { colleague, desks, lane, planOf, seats, WORK } from '../support/plans'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR
/** A Monday. */
const NINE = Date.parse('2026-06-01T07:00:00Z')
let ids = 0
const TOOLS: Tools = { newId: () => `id ${++ids}`, sign: { act: () => '/', again: () => '/' } }
const OFFICE = { zone: 'Europe/Paris', week: sameHours([1, 2, 3, 4, 5], 9, 17) }
const PEOPLE = new Map(
  [
    colleague('rowan', { hours: OFFICE }),
    colleague('sorrel', { hours: OFFICE }),
    colleague('boss', { hours: OFFICE, role: 'manager' }),
  ].map(c => [c.id, c]),
)
const RULES: Rules = {
  card: 1,
  scorecard: { version: 1, halfLifeDays: 14, fit: [], interest: [], labels: [{ label: 'ready', fit: -100, interest: 0 }] },
  labels: ['ready'],
  lists: new Set(),
  plan: planOf(lane('rest', { pool: seats('rowan', 'sorrel'), onward: true })),
  members: PEOPLE,
  firstStatus: 'untouched',
  whole: c => c,
  ...WORK,
  hours: OFFICE,
  targets: new Map([['ready', 60]]),
}

function lead(more: Partial<LeadState> = {}, rules: Partial<Rules> = {}) {
  const state: LeadState = {
    ...blankLead('l', { address: 'ida@a.example', key: 'ida@a.example' }, 'untouched', NINE - DAY),
    firstName: 'Ida',
    label: 'ready',
    ownerId: 'rowan',
    lane: 'rest',
    waitingSince: NINE,
    ...more,
  }
  const { book, learn } = openBook(needsOf([]), TOOLS.newId)
  learn({ leads: [state], needs: needsOf([]), ofLeads: new Map([['l', { lists: [], moments: new Map() }]]) })
  const all = { ...RULES, ...rules }
  const table = desks()
  const act = (at: number, what: object, by: string | null = 'rowan') => {
    const [step] = applyBatch(all, TOOLS, book, [{ at, by, lead: 'l', ...what } as LeadCause])
    give(all, TOOLS, step!, table)
    const event = eventOf(step!, 1, { stages: all.stages, qualified: new Set() })
    return { ...step!, event }
  }
  /** Lives until a moment: what falls due is judged when it does. */
  const until = (moment: number): Step[] => {
    const steps: Step[] = []
    for (let due = NINE; due <= moment;) {
      const step = act(due, { kind: 'due' }, null)
      steps.push(step)
      if (step.judgeAt <= due) throw new Error('It would come for ever.')
      due = step.judgeAt
    }
    return steps
  }
  return { state, act, until }
}

describe('the clock', () => {
  it.each<[string, object, string | null]>([
    ['a call that reached them', { kind: 'call', result: 'reached' }, 'call'],
    [
      'a meeting they chose',
      { kind: 'meeting', starts: NINE + DAY, minutes: 30, with: 'rowan', notice: { subject: 's', text: 't', meeting: 'm' } },
      'meeting',
    ],
    ['closing them', { kind: 'status', status: 'lost', outcome: { reason: 'Too dear' } }, 'closed'],
    ['a call that reached nobody', { kind: 'call', result: 'not_reached' }, null],
    ['a wrong number', { kind: 'call', result: 'wrong_number' }, null],
    ['a note', { kind: 'note', text: 'x' }, null],
    ['a status', { kind: 'status', status: 'in_talks' }, null],
    ['a next step', { kind: 'next_step', step: { text: 'Call', due: NINE + DAY } }, null],
    ['somebody else', { kind: 'owner', owner: 'sorrel' }, null],
  ])('%s: what stops it', (_, what, by) => {
    const { state, act } = lead()
    const step = act(NINE + 20 * MINUTE, what)
    expect([state.waitingSince, step.changes.answered]).toEqual(
      by ? [null, { since: new Date(NINE).toISOString(), by }] : [NINE, undefined],
    )
  })
  it('a try counts where the plan says so, but not a wrong number', () => {
    const plan = { ...RULES.plan, tries: { ladder: [60], count: true } }
    const tried = lead({}, { plan })
    tried.act(NINE, { kind: 'call', result: 'left_message' })
    expect(tried.state.waitingSince).toBeNull()
    const wrong = lead({}, { plan })
    wrong.act(NINE, { kind: 'call', result: 'wrong_number' })
    expect(wrong.state.waitingSince).toBe(NINE)
  })
  it('tells the owner, then who manages, then goes on to somebody else, each once, in working time', () => {
    const { state, until } = lead({}, { plan: { ...RULES.plan, low: { owner: 50, manager: 100, onward: 200 } } })
    const steps = until(NINE + 3 * DAY)
    expect(steps.flatMap(s => s.notices.map(n => [(s.at - NINE) / MINUTE, n.to, n.subject]))).toEqual([
      [30, 'rowan', 'Ida still waits'],
      [60, 'boss', 'Nobody has answered Ida'],
      [120, 'sorrel', 'Ida is yours now'],
      [120, 'rowan', 'Ida went on to sorrel'],
    ])
    expect([state.ownerId, state.waitingSince]).toEqual(['sorrel', NINE])
  })
  it('stays with its owner where nobody else is there, and says so', () => {
    const { state, until } = lead({}, { plan: { ...RULES.plan, lanes: [{ ...RULES.plan.lanes[0]!, pool: seats('rowan') }] } })
    const said = until(NINE + 3 * DAY).flatMap(s => s.changes.promise ?? [])
    expect(said.at(-1)).toMatchObject({ step: 'onward', told: [], stays: 'rowan' })
    expect(state.ownerId).toBe('rowan')
  })
  it('that stopped tells nobody; one that began anew begins to tell anew', () => {
    const { state, act, until } = lead()
    act(NINE + 5 * MINUTE, { kind: 'call', result: 'reached' })
    expect(until(NINE + 3 * DAY).flatMap(s => s.notices)).toEqual([])
    state.waitingSince = NINE + 4 * DAY
    expect(act(NINE + 4 * DAY + 40 * MINUTE, { kind: 'due' }, null).notices.map(n => n.subject)).toEqual(['Ida still waits'])
  })
  it('of who has no owner tells who manages', () => {
    const told = lead({ ownerId: null, lane: null })
      .until(NINE + 3 * DAY)
      .flatMap(s => s.notices.map(n => n.to))
    expect(told).toEqual(['boss'])
  })
})

describe('calls', () => {
  it('not reached: the next try is set by the ladder, in working time; where it ends, nothing is', () => {
    const { state, act } = lead({}, { plan: { ...RULES.plan, tries: { ladder: [120, 480], count: false } } })
    act(NINE, { kind: 'call', result: 'not_reached' })
    expect([state.nextStep, state.nextStepAt, state.followUp.step]).toEqual([
      'Call again, try 2',
      NINE + 2 * HOUR,
      { kind: 'call', remind: [0] },
    ])
    act(NINE + 2 * HOUR, { kind: 'call', result: 'left_message' })
    expect([state.nextStep, state.nextStepAt]).toEqual(['Call again, try 3', NINE + DAY + 2 * HOUR])
    act(NINE + DAY + 2 * HOUR, { kind: 'call', result: 'not_reached' })
    expect([state.nextStep, state.followUp.tries]).toEqual([null, 3])
    act(NINE + DAY + 3 * HOUR, { kind: 'call', result: 'reached' })
    expect(state.followUp).toEqual({})
  })
  it('leave alone what is to be done later, like a visit', () => {
    const { state, act } = lead({ nextStep: 'Visit', nextStepAt: NINE + 9 * DAY, followUp: { step: { kind: 'visit' } } })
    act(NINE, { kind: 'call', result: 'not_reached' })
    expect([state.nextStep, state.followUp]).toEqual(['Visit', { step: { kind: 'visit' }, tries: 1 }])
  })
})

describe('an end', () => {
  it('leaves nothing to be done, keeps why, and waits for nobody', () => {
    const { state, act } = lead({ nextStep: 'Call', nextStepAt: NINE })
    act(NINE, { kind: 'status', status: 'won', outcome: { value: 380_000, on: '2026-06-01' } })
    expect([state.nextStep, state.waitingSince, state.followUp]).toEqual([
      null,
      null,
      { outcome: { status: 'won', at: NINE, value: 380_000, on: '2026-06-01' } },
    ])
  })
  it('parked wakes up when it said, for its owner, who hears of it', () => {
    const { state, act, until } = lead()
    const wakes = NINE + 2 * DAY
    const parked = act(NINE, { kind: 'status', status: 'parked', until: wakes, outcome: { reason: 'After the holidays' } })
    expect(parked.judgeAt).toBe(wakes)
    const [step] = until(wakes).slice(-1)
    expect([state.status, state.nextStep, state.nextStepAt]).toEqual(['in_talks', 'Look at Ida again', wakes])
    expect([step!.changes.woke, step!.notices.map(n => [n.to, n.subject])]).toEqual([
      { from: 'parked', since: new Date(NINE).toISOString(), by: 'time', reason: 'After the holidays' },
      [['rowan', 'Ida woke up']],
    ])
    expect(until(wakes + 9 * DAY).flatMap(s => s.changes.woke ?? [])).toEqual([])
  })
})

describe('taking back', () => {
  const ACTS = [
    { kind: 'status', status: 'won', outcome: { value: 1, on: '2026-06-01' } },
    { kind: 'status', status: 'in_talks' },
    { kind: 'status', status: 'parked', until: NINE + 9 * DAY },
    { kind: 'owner', owner: 'sorrel' },
    { kind: 'owner', owner: 'sorrel', within: 60 },
    { kind: 'owner', owner: null },
    { kind: 'next_step', step: { text: 'Visit', due: NINE + DAY, kind: 'visit', remind: [15], every: 'week' } },
    { kind: 'next_step', step: null, done: true },
    { kind: 'call', result: 'reached' },
    { kind: 'call', result: 'not_reached' },
  ]
  const BEGIN: Partial<LeadState> = {
    nextStep: 'Call',
    nextStepAt: NINE + HOUR,
    followUp: { step: { kind: 'call', remind: [0] }, reminded: NINE, tries: 1 },
    counted: { last: { entry: NINE } },
  }
  const kept = ({
    status,
    statusAt,
    ownerId,
    lane: l,
    nextStep,
    nextStepAt,
    waitingSince,
    followUp: { reminded: _, told: __, ...followUp },
    counted,
  }: LeadState) => structuredClone({ status, statusAt, ownerId, l, nextStep, nextStepAt, waitingSince, followUp, counted })

  it.each(ACTS)('%j: all is as before, as after a way through the database', what => {
    const { state, act } = lead(BEGIN)
    const before = kept(state)
    const { event } = act(NINE + HOUR, what)
    expect(kept(state)).not.toEqual(before)
    const undo = JSON.parse(JSON.stringify(event!.undo)) as NonNullable<typeof event>['undo']
    const step = act(NINE + HOUR + MINUTE, { kind: 'undo', of: event!.version, act: what.kind, undo })
    expect([kept(state), step.undone, step.changes.undone?.of]).toEqual([before, event!.version, event!.version])
  })
  it('never what somebody did since, whatever was done in between', () => {
    fc.assert(
      fc.property(fc.nat(ACTS.length - 1), fc.array(fc.nat(ACTS.length - 1), { maxLength: 3 }), (first, others) => {
        const { state, act } = lead(BEGIN)
        const before = kept(state)
        const { event } = act(NINE + HOUR, ACTS[first]!)
        const mine = kept(state)
        others.forEach((i, n) => act(NINE + (n + 2) * HOUR, ACTS[i]!, 'sorrel'))
        const since = kept(state)
        if (!event?.undo) return
        act(NINE + 9 * HOUR, { kind: 'undo', of: 1, act: 'status', undo: event.undo })
        const now = kept(state)
        // Each thing is as it was before where nobody touched it, else as the others left it.
        for (const field of ['status', 'ownerId', 'nextStep', 'waitingSince'] as const) {
          const untouched = JSON.stringify(since[field]) === JSON.stringify(mine[field])
          if (!untouched) expect(now[field]).toEqual(since[field])
          else expect([since[field], before[field]]).toContainEqual(now[field])
        }
        if (!others.length) expect(now).toEqual(before)
      }),
    )
  })
  it('a win that is taken back is no win for the figures', () => {
    const { state, act } = lead()
    const { event } = act(NINE, ACTS[0]!)
    expect(state.counted.last?.won).toBe(NINE)
    act(NINE + 1, { kind: 'undo', of: 1, act: 'status', undo: event!.undo })
    expect(state.counted.last?.won).toBeUndefined()
  })
  it('nor is one that did not last', () => {
    const { state, act } = lead()
    act(NINE, ACTS[0]!)
    act(NINE + DAY, { kind: 'status', status: 'in_talks' })
    expect(state.counted.last).toMatchObject({ closed: NINE })
    expect(state.counted.last?.won).toBeUndefined()
  })
  it('goes back as a whole or not at all, part by part', () => {
    const state = { ...lead(BEGIN).state }
    const before = snapshotOf(state)
    Object.assign(state, { nextStep: 'Write', nextStepAt: NINE + DAY })
    const undo = changedSince(before, state)!
    state.nextStepAt = NINE + 2 * DAY
    expect([takeBack(state, undo), state.nextStep]).toEqual([[], 'Write'])
  })
})

describe('handing over with a time to accept', () => {
  const given = () => {
    const l = lead({ waitingSince: null })
    l.act(NINE, { kind: 'owner', owner: 'sorrel', within: 60, words: 'Please' })
    return l
  }
  it('goes back when the time is over, in working time, and both ends know', () => {
    const { state, until } = given()
    const steps = until(NINE + DAY)
    expect(steps.flatMap(s => s.changes.hand_over ?? [])).toEqual([{ how: 'lapsed', to: 'sorrel', back: 'rowan' }])
    expect([state.ownerId, steps.flatMap(s => s.notices.map(n => [(s.at - NINE) / MINUTE, n.to, n.subject]))]).toEqual([
      'rowan',
      [[60, 'rowan', 'sorrel did not take Ida in time']],
    ])
  })
  it('stays where it is taken; what is declined goes back at once', () => {
    const taken = given()
    taken.act(NINE + MINUTE, { kind: 'accept', accepts: true }, 'sorrel')
    taken.until(NINE + DAY)
    expect(taken.state.ownerId).toBe('sorrel')
    const declined = given()
    declined.act(NINE + MINUTE, { kind: 'accept', accepts: false }, 'sorrel')
    expect([declined.state.ownerId, declined.state.followUp]).toEqual(['rowan', {}])
  })
})

describe('next steps', () => {
  it('remind their owner before and at the time, each once', () => {
    const { act, until } = lead({ waitingSince: null })
    act(NINE, { kind: 'next_step', step: { text: 'Call Ida', due: NINE + 2 * HOUR, kind: 'call', remind: [60, 0] } })
    expect(until(NINE + DAY).flatMap(s => s.notices.map(n => [(s.at - NINE) / MINUTE, n.subject]))).toEqual([
      [60, 'Soon: Call Ida'],
      [120, 'Now: Call Ida'],
    ])
  })
  it('of which a moment has gone by when they are set are not reminded of', () =>
    expect(nextReminder({ step: { kind: 'call', remind: [60, 0] }, reminded: NINE }, NINE + 30 * MINUTE)).toBe(NINE + 30 * MINUTE))
  it('that come again come again when they are done, by their own rhythm', () => {
    const { state, act } = lead({ nextStep: 'Call', nextStepAt: NINE, followUp: { step: { kind: 'call', every: 'week' } } })
    const step = act(NINE + 9 * DAY, { kind: 'next_step', step: null, done: true, outcome: 'All well' })
    expect([state.nextStepAt, state.followUp.step]).toEqual([NINE + 14 * DAY, { kind: 'call', every: 'week' }])
    expect(step.changes.next_step).toMatchObject({ done: true, was: 'Call', outcome: 'All well', text: 'Call' })
  })
  it('come again at the same time on the wall, after the moment, and on the last day of short months', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 4000 }), fc.constantFrom(...EVERY), fc.integer({ min: 0, max: 900 }), (day, every, later) => {
        const [due, after] = [NINE + day * DAY, NINE + (day + later) * DAY]
        const next = nextOf(due, every, after, 'Europe/Paris')
        const wall = (at: number) => new Intl.DateTimeFormat('en', { timeStyle: 'short', timeZone: 'Europe/Paris' }).format(at)
        expect(next).toBeGreaterThan(after)
        expect(wall(next)).toBe(wall(due))
      }),
    )
    const last = Date.parse('2027-01-31T09:00:00Z')
    expect(new Date(nextOf(last, 'month', last, 'UTC')).toISOString()).toBe('2027-02-28T09:00:00.000Z')
    expect(new Date(nextOf(last, 'month', Date.parse('2027-03-01T00:00:00Z'), 'UTC')).toISOString()).toBe('2027-03-31T09:00:00.000Z')
  })
})
