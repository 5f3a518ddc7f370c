import { describe, expect, it } from 'vitest'
import { changesIn, redacted } from '#core/events/event'
import type { Names, Sentence } from '#core/events/kind'
import { EVENT_KINDS, EVENT_NAMES, kindNamed, type EventName, type EventPayloads } from '#core/events/registry'
import { blankLead, newStep, tell } from '#core/leads/book'
import { eventOf } from '#core/leads/event-of'
import { check } from '#core/validate'

const MOMENT = '2027-03-01T09:00:00.000Z'
const SECRET = 'ida@secret.example'
/** One of each; what says who somebody is, is SECRET. A kind that is not here does not compile. */
const EACH: EventPayloads = {
  created: { point: 'Visit' },
  brought_in: {
    list: 'Fair',
    filled: [
      { property: 'town', was: null, now: SECRET },
      { property: 'crops', was: [SECRET], now: ['kale'] },
    ],
  },
  taken_back: { list: 'Fair' },
  typed: { email: SECRET },
  claimed: { address: SECRET },
  confirmed: { email: SECRET },
  judged: { email: SECRET, theirs: true },
  merged: {
    lead: 'b',
    name: SECRET,
    taken: [
      { what: 'town', was: null, now: SECRET },
      { what: 'owner', was: 'a', now: 'm' },
    ],
  },
  merged_into: { lead: 'a', name: SECRET },
  split: { lead: 'b', name: SECRET },
  entry: {
    entry: 'e',
    changed: [{ property: 'town', from: SECRET, to: SECRET }],
    agreed: [SECRET],
    point: 'Visit',
    edition: 3,
    page: 'https://a.example/contact',
  },
  corrected: {
    entry: 'e',
    point: 'Visit',
    answers: [{ question: 'Who?', from: SECRET, to: '' }],
    changed: [{ property: 'town', from: '', to: SECRET }],
  },
  called_off: { at: MOMENT, with: 'm', by: 'them', words: SECRET },
  meeting: { at: MOMENT, minutes: 30, with: 'm', was: MOMENT, by: 'us', words: SECRET },
  note: {
    text: SECRET,
    mentions: ['019a0000-0000-7000-8000-000000000001'],
    files: [{ id: '019a0000-0000-7000-8000-000000000002', name: SECRET, size: 3 }],
  },
  note_changed: { of: 'l 4', text: SECRET },
  call: { result: 'left_message', text: SECRET },
  answered: { since: MOMENT, by: 'call' },
  promise: { step: 'manager', over: 61, of: 60, told: ['m'] },
  woke: { from: 'lost', since: MOMENT, by: 'entry', reason: SECRET },
  sent_back: { why: 'too_early', words: SECRET, owner: 'm', label: 'ready', rules: ['size'] },
  hand_over: { how: 'lapsed', to: 'm', back: 'n' },
  edited: { property: 'town', was: SECRET, now: null },
  made: { from: SECRET },
  wrote: { subject: SECRET, text: SECRET, mail: 'd', files: [{ id: '019a0000-0000-7000-8000-000000000003', name: SECRET, size: 3 }] },
  talked: { talk: 'c', point: 'Ask us', what: 'rated', rating: 4, words: SECRET },
  replied: { subject: SECRET, text: SECRET, quoted: SECRET, from: SECRET, auto: true },
  tags: { on: [SECRET], off: ['spring'] },
  undone: { of: 7, act: 'status', status: 'won' },
  status: { from: 'untouched', to: 'won' },
  lists: { on: ['a', 'gone'], off: ['b'] },
  label_held: { label: 'ready', how: 'fixed', until: MOMENT, reason: SECRET },
  label: { from: 'early', to: 'ready', because: 'score', fit: 30, interest: 20 },
  owner: { from: null, to: 'm', lane: 'Schools', by: 'plan', words: SECRET },
  unowned: { lane: 'Schools', until: '2026-11-23T08:00:00.000Z' },
  next_step: { text: SECRET, due: MOMENT },
  clicked: { subject: SECRET },
  unsubscribed: { email: SECRET },
}
const named = (what: string) => (key: string | null) => `${what} ${key}`
const NAMES: Names = {
  member: named('member'),
  label: named('label'),
  status: named('status'),
  list: id => (id === 'gone' ? null : `list ${id}`),
  property: named('property'),
  money: amount => `${amount / 100} €`,
}
const read = (sentence: Sentence) =>
  sentence.map(p => (typeof p === 'string' ? p : 'strong' in p ? p.strong : 'faint' in p ? p.faint : p.moment)).join('')
const said = <K extends EventName>(kind: K, payload: EventPayloads[K], actor: string | null = null, cause?: string) =>
  read(kindNamed(kind)!.sentence(payload, { names: NAMES, actor, ...(cause && { cause }) }))

describe('each kind of event', () => {
  it.each(EVENT_NAMES)('%s is read as it was kept, and has a sentence, also once the person is erased', kind => {
    expect(changesIn(JSON.parse(JSON.stringify({ [kind]: EACH[kind] })) as Record<string, unknown>)).toEqual([
      { kind, payload: EACH[kind] },
    ])
    const left = redacted({ [kind]: EACH[kind] })
    expect(JSON.stringify(left)).not.toContain(SECRET)
    expect(changesIn(left)).toHaveLength(1)
    for (const payload of [EACH[kind], changesIn(left)[0]!.payload]) {
      for (const actor of [null, 'Orla']) {
        const words = read(kindNamed(kind)!.sentence(payload, { names: NAMES, actor }))
        expect(words).toMatch(/^\p{Lu}.*\S/u)
        expect(words).not.toMatch(/undefined|null|NaN|\[object/)
      }
    }
  })
  it.each(EVENT_NAMES)('%s keeps what figures count when the person is erased', kind => {
    if (kind === 'label' || kind === 'status' || kind === 'lists') expect(redacted({ [kind]: EACH[kind] })).toEqual({ [kind]: EACH[kind] })
    if (kind === 'owner') expect(redacted({ owner: EACH.owner })).toEqual({ owner: { from: null, to: 'm', lane: 'Schools', by: 'plan' } })
    if (kind === 'entry') expect(redacted({ entry: EACH.entry }).entry).toEqual({ entry: 'e' })
    expect(Object.keys(redacted({ [kind]: EACH[kind] }))).toEqual([kind])
  })
})

it('says who did it, from where to where', () => {
  expect(said('owner', { from: 'a', to: 'b', by: 'person' }, 'Orla')).toBe('Orla gave it to member b from member a')
  expect(said('owner', { from: 'a', to: 'b', by: 'person', words: 'She speaks French.' }, 'Orla')).toBe(
    'Orla gave it to member b from member a: “She speaks French.”',
  )
  expect(said('owner', { from: 'a', to: null, by: 'person' }, 'Orla')).toBe('Orla took it from member a: nobody answers for them')
  expect(said('brought_in', { list: 'Fair' }, 'Orla')).toBe('Brought in by Orla with the list “Fair”')
  expect(said('brought_in', EACH.brought_in, 'Orla')).toBe(
    'Orla brought in more about them: property town, property crops with the list “Fair”',
  )
  expect(said('owner', { from: null, to: 'b', by: 'point', point: 'Visit' })).toBe('Given to member b as the form “Visit” says')
  expect(said('label', { from: null, to: null, because: 'point', fit: 0, interest: 0 })).toBe('Label label null given by the form')
  expect(said('label', EACH.label, null, 'due')).toBe('Label label ready instead of label early as time went by: fit 30, interest 20')
  expect(said('lists', { on: [], off: ['b'] }, 'Orla')).toBe('Orla took them from “list b”')
  expect(said('lists', { on: ['a', 'gone'], off: ['b'] })).toBe('Put on “list a”, “a list that is no more” and taken from “list b”')
  expect(said('next_step', { text: null, due: null, was: 'Call', done: true }, 'Orla')).toBe('Orla did “Call”')
  expect(said('next_step', { text: 'Call', due: MOMENT })).toBe(`The form asks for Call, ${MOMENT}`)
})

it('passes over what it does not know or cannot read, and tells the rest in the order in which it happened', () => {
  const kept = {
    next_step: EACH.next_step,
    owner: 'nonsense',
    constructor: {},
    tomorrow: { x: 1 },
    label: { ...EACH.label, fit: 'much' },
    created: EACH.created,
    note: null,
  }
  expect(changesIn(kept).map(c => c.kind)).toEqual(['created', 'next_step'])
  for (const kind of EVENT_NAMES) expect(check(EVENT_KINDS[kind].payload as never, { ...EACH[kind], nonsense: 1 }).flaws).toHaveLength(1)
})

describe('what a cause did', () => {
  const COUNTING = {
    stages: new Map([
      ['untouched', 'first'],
      ['won', 'won'],
    ]),
    qualified: new Set(['ready']),
  }
  const lead = () => blankLead('l', null, 'untouched', 0)
  const step = (who = lead()) => ({
    ...newStep({ kind: 'activities', at: 5, by: null, lead: 'l', activities: [] }, who, false),
    changed: false,
  })
  it('is an event only where something is another than before, and each is the lead’s next', () => {
    const who = lead()
    expect([eventOf(step(who), 3, COUNTING), who.version]).toEqual([null, 0])
    expect(eventOf({ ...step(who), scored: true, score: { fit: 3, interest: 2, sum: 2.4 } }, 3, COUNTING)).toEqual({
      lead: 'l',
      version: 1,
      at: 5,
      cause: 'activities',
      actor: null,
      changes: {},
      fit: 3,
      interest: 2.4,
      card: 3,
      facets: { status: 'untouched', created: 0 },
    })
    const told = step(who)
    tell(told, 'label', EACH.label)
    expect(eventOf(told, 3, COUNTING)).toMatchObject({ version: 2, changes: { label: EACH.label } })
    expect(eventOf({ ...step(who), changed: true }, 3, COUNTING)).toMatchObject({ version: 3, changes: {} })
  })
  it('has each kind once', () => {
    const twice = step()
    tell(twice, 'note', { text: 'a' })
    expect(() => tell(twice, 'note', { text: 'b' })).toThrow('“note” twice')
  })
})
