import { describe, expect, it } from 'vitest'
import { applyBatch } from '#core/leads/apply'
import { blankLead, type Rules, type Tools } from '#core/leads/book'
import { RUNS, type Cause, type LeadCause } from '#core/leads/causes'
import { NotLoaded } from '#core/leads/beside'
import { needsOf } from '#core/leads/needs'
import { openBook } from '#core/leads/open-book'
import type { LeadState } from '#core/leads/lead'
import { colleague, lane, planOf, seats, WORK } from '../support/plans'

const NOW = Date.UTC(2026, 5, 1, 12)
let ids = 0
const TOOLS: Tools = { newId: () => `id ${++ids}`, sign: { act: () => '/', again: () => '/' } }
const RULES: Rules = {
  card: 1,
  scorecard: {
    version: 1,
    halfLifeDays: 14,
    fit: [
      { key: 'talks', name: 'In talks', points: 30, when: { attribute: 'status', is: 'equal', value: 'in_talks' } },
      { key: 'listed', name: 'On the list', points: 7, when: { attribute: 'list', is: 'equal', value: 'spring' } },
    ],
    interest: [{ key: 'page', name: 'Read', points: 20, on: 'page_view', when: null }],
    labels: [
      { label: 'cold', fit: -100, interest: 0 },
      { label: 'warm', fit: 30, interest: 0 },
    ],
  },
  labels: ['cold', 'warm'],
  plan: planOf(lane('rest', { pool: seats('rowan') })),
  lists: new Set(['spring']),
  members: new Map([['rowan', colleague('rowan')]]),
  firstStatus: 'untouched',
  ...WORK,
  whole: c => c,
}
const needs = needsOf(RULES.scorecard.fit.map(rule => rule.when))

function lead(more: Partial<LeadState> = {}) {
  const state = { ...blankLead('l', { address: 'a@a.example', key: 'a@a.example' }, 'untouched', NOW - 1000), label: 'cold', ...more }
  const open = openBook(needs, TOOLS.newId)
  open.learn({ leads: [state], needs, ofLeads: new Map([['l', { lists: [], moments: new Map() }]]) })
  return { state, open }
}
const cause = (what: object): Cause => ({ at: NOW, by: 'rowan', lead: 'l', ...what }) as LeadCause

const OTHER = blankLead('m', null, 'untouched', NOW - 2000)
/** One of each cause of a lead that is there. */
const EACH: Record<LeadCause['kind'], object> = {
  correction: {
    entry: 'e',
    point: 'P',
    questions: [],
    before: { answers: {}, values: {} },
    after: { answers: {}, values: {} },
    notice: 'corrected it',
  },
  activities: { activities: [{ kind: 'page_view', at: NOW, note: '/', attributes: () => undefined }] },
  browser: { activities: [] },
  note: { text: 'x' },
  sent_back: { why: 'too_early', words: '', label: 'cold', until: NOW + 1000 },
  called_off: { starts: NOW + 1000, with: 'rowan', from: 'them', words: '', notice: null },
  note_changed: { of: 'l 1', text: 'y' },
  status: { status: 'in_talks' },
  owner: { owner: 'rowan' },
  call: { result: 'reached', text: 'x' },
  undo: { of: 1, act: 'status', undo: {} },
  accept: { accepts: true },
  edited: { property: 'town', value: 'Fenwick' },
  wrote: { mail: 'd', subject: 's', text: 't' },
  talked: { talk: 'c', point: 'p', what: 'answered' },
  replied: { subject: 's', text: 't', quoted: '', from: null, auto: false },
  tags: { on: ['x'], off: [] },
  next_step: { step: { text: 'Call', due: NOW } },
  lists: { lists: ['spring'] },
  listed: { list: 'spring', isNew: false },
  row_undone: { table: 'Fair', list: null, filled: [], owner: null },
  meeting: { starts: NOW, minutes: 30, with: 'rowan', notice: { subject: 's', text: 't', meeting: 'e' } },
  confirmed: { address: 'a@a.example' },
  claim_confirmed: { claim: { address: 'b@b.example', key: 'b@b.example', at: NOW }, isNew: true, becomes: false },
  judged: { claim: { address: 'b@b.example', key: 'b@b.example', confirmedAt: null }, theirs: true },
  vouched: {},
  label_held: { label: 'hot', how: 'floor', until: null, reason: 'They rang' },
  unsubscribed: { address: 'a@a.example' },
  clicked: { subject: 's' },
  merged: { gone: OTHER, take: [], lists: [] },
  split: { other: { id: 'm', name: 'M' }, states: { before: OTHER, after: OTHER, added: [], lists: [] }, without: [], trail: null },
  restored: { other: { id: 'm', name: 'M' }, lists: [], since: [], trail: null, waitingSince: null, stepIsDone: false },
  due: {},
  ruleset: {},
}
const each = Object.entries(EACH).map(([kind, what]) => [kind as LeadCause['kind'], what] as const)

it('a lead that waited and has got its owner another way is not due for one again', () => {
  const { state, open } = lead({ ownerId: 'rowan', routeAt: NOW - 1 })
  const [step] = applyBatch(RULES, TOOLS, open.book, [cause({ kind: 'due' })])
  expect([state.routeAt, step!.lanes, step!.notices]).toEqual([null, null, []])
})

describe('a cause', () => {
  it.each(each)('%s judges the lead anew, so that no rule is forgotten, and gives it to nobody', (kind, what) => {
    const { state, open } = lead()
    const [step] = applyBatch(RULES, TOOLS, open.book, [cause({ kind, ...what })])
    expect(RUNS[kind]).toEqual(expect.arrayContaining(['fit', 'label']))
    expect(step!.lanes).toBeNull()
    expect(state.ownerId).toBe(kind === 'owner' ? 'rowan' : null)
    const talks = kind === 'status'
    expect([state.label, state.reasons.some(r => r.rule === 'talks')]).toEqual([talks ? 'warm' : 'cold', talks])
    expect(state.reasons.some(r => r.rule === 'listed')).toBe(kind === 'lists' || kind === 'listed')
  })
  it.each<LeadCause['kind']>(['activities', 'browser', 'due', 'ruleset', 'listed', 'clicked'])(
    '%s alone does not count as a change of the lead, but a label that follows does',
    kind => {
      const quiet = lead()
      expect(applyBatch(RULES, TOOLS, quiet.open.book, [cause({ kind, ...EACH[kind] })])[0]!.changed).toBe(false)
      const falls = lead({ label: 'warm' })
      const [step] = applyBatch(RULES, TOOLS, falls.open.book, [cause({ kind, ...EACH[kind] })])
      expect([step!.changed, 'label' in step!.changes]).toEqual([true, true])
    },
  )
  it.each<LeadCause['kind']>(['activities', 'browser', 'due', 'ruleset', 'listed', 'lists'])('%s tells nobody', kind => {
    const { open } = lead({ ownerId: 'rowan' })
    expect(applyBatch(RULES, TOOLS, open.book, [cause({ kind, ...EACH[kind] })])[0]!.notices).toEqual([])
  })
  it.each<[LeadCause['kind'], boolean]>([
    ['meeting', true],
    ['correction', false],
  ])('%s tells the owner at the bell, by mail: %s', (kind, mail) => {
    const { open } = lead({ ownerId: 'rowan' })
    expect(applyBatch(RULES, TOOLS, open.book, [cause({ kind, ...EACH[kind] })])[0]!.notices).toMatchObject([{ to: 'rowan', mail }])
  })
  it('finds what the one before it did', () => {
    const { state, open } = lead()
    applyBatch(RULES, TOOLS, open.book, [
      cause({ kind: 'lists', lists: ['spring'] }),
      cause({ kind: 'note', text: 'x' }),
      cause({ kind: 'lists', lists: [] }),
    ])
    expect(state.reasons).toEqual([])
    applyBatch(RULES, TOOLS, open.book, [cause({ kind: 'lists', lists: ['spring'] }), cause({ kind: 'note', text: 'x' })])
    expect(state.reasons.map(r => r.rule)).toEqual(['listed'])
  })
  it('of a lead that is not in the book is a fault of ours, and so is a rule whose attribute was not loaded', () => {
    const { open } = lead()
    expect(() => applyBatch(RULES, TOOLS, open.book, [{ ...cause({ kind: 'due' }), lead: 'other' } as LeadCause])).toThrow(
      'not in the book',
    )
    const bare = openBook(needsOf([]), TOOLS.newId)
    bare.learn({ leads: [lead().state], needs: needsOf([]), ofLeads: new Map([['l', { moments: new Map() }]]) })
    expect(() => applyBatch(RULES, TOOLS, bare.book, [cause({ kind: 'due' })])).toThrow(NotLoaded)
  })
})
