import { actionsOf } from '#core/actions/edit'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ReviewReason, Intake } from '#core/capture/intake'
import type { Case } from '#core/capture/case'
import { guard, settleEntry } from '#core/capture/steps'
import { applyBatch } from '#core/leads/apply'
import { whoKey, type Rules, type Tools } from '#core/leads/book'
import { openBook } from '#core/leads/open-book'
import { give } from '#core/leads/stages'
import { parseEmail } from '#core/identity/email'
import { needsOf } from '#core/leads/needs'
import type { LeadState } from '#core/leads/lead'
import { readAnswers } from '#core/points/answers'
import {
  blankDefinition,
  blankQuestion,
  type Answers,
  type OnDifference,
  type PeopleRules,
  type PointDefinition,
} from '#core/points/definition'
import { PLAIN_READING } from '#core/points/values'
import { scoreAt } from '#core/scoring/lines'
import type { Scorecard } from '#core/scoring/scorecard'
import { EVENT_NAMES } from '#core/events/registry'
import { does } from '../support/forms'
import { colleague, desks, lane, planOf, seats, WORK } from '../support/plans'

const DAY = 86_400_000
const NOON = Date.parse('2026-03-02T12:00:00Z')
const [ROWAN, SORREL, TANSY] = ['rowan', 'sorrel', 'tansy']
const ORDER = ['early', 'warming', 'ready']

const SCORECARD: Scorecard = {
  version: 1,
  halfLifeDays: 10,
  fit: [{ key: 'school', name: 'A school', points: 30, when: { attribute: 'property.sector', is: 'equal', value: 'school' } }],
  interest: [
    { key: 'asked', name: 'Asked for a visit', points: 20, on: 'entry', when: { attribute: 'point', is: 'equal', value: 'visit' } },
  ],
  labels: [
    { label: 'early', fit: -1000, interest: 0 },
    { label: 'warming', fit: 0, interest: 30 },
    { label: 'ready', fit: 30, interest: 20 },
  ],
}
const SCHOOL = { attribute: 'property.sector', is: 'equal', value: 'school' } as const
const PLAN = planOf(
  lane('schools', { name: 'Schools', when: SCHOOL, pool: seats(SORREL) }),
  lane('rest', { name: 'Everyone else', pool: seats(ROWAN, SORREL, TANSY) }),
)

function form(change: (d: PointDefinition) => void = () => {}): PointDefinition {
  const definition = blankDefinition('Visit')
  definition.questions = [
    blankQuestion({ key: 'email', kind: 'email', label: 'Your address', property: 'email' }),
    blankQuestion({ key: 'name', kind: 'short_text', label: 'Your name', property: 'first_name' }),
    blankQuestion({
      key: 'sector',
      kind: 'one_of',
      label: 'What are you?',
      property: 'sector',
      choices: [
        { value: 'school', text: 'A school', tag: 'teaches' },
        { value: 'garden', text: 'A garden' },
      ],
    }),
    blankQuestion({
      key: 'grows',
      kind: 'some_of',
      label: 'What grows there?',
      property: 'crops',
      choices: ['kale', 'leek', 'mint'].map(value => ({ value, text: value })),
    }),
    blankQuestion({ key: 'words', kind: 'long_text', label: 'Anything else?', property: 'message' }),
  ]
  change(definition)
  return definition
}

let count = 0
const newId = () => `id ${++count}`
function intake(answers: Answers, more: Partial<Intake> & { definition?: PointDefinition } = {}): Intake {
  const { definition = form(), ...rest } = more
  const { answers: given, values, flaws } = readAnswers(definition.questions, answers, PLAIN_READING)
  expect(flaws).toEqual([])
  return {
    entryId: newId(),
    at: NOON,
    point: { id: 'p', key: 'visit', slug: 'visit', name: 'Visit' },
    edition: { id: 'e', number: 1, definition },
    language: definition.language,
    answers: given,
    values,
    judged: null,
    files: [],
    email: typeof answers.email === 'string' ? parseEmail(answers.email) : null,
    known: null,
    page: null,
    referrer: null,
    utm: {},
    visitor: null,
    sender: null,
    unfinished: null,
    finished: null,
    tried: null,
    via: 'script',
    landing: null,
    tookMs: null,
    suspect: null,
    idempotencyKey: null,
    fingerprint: '',
    ...rest,
  }
}

/** All that one batch of entries takes: the rules, the book, and the turns of lanes. */
function newBatch(more: Partial<Rules> & { taken?: Map<string, number> } = {}) {
  const { taken: before = new Map<string, number>(), ...rest } = more
  const people = new Map([ROWAN, SORREL, TANSY].map(id => [id, colleague(id)]))
  const rules: Rules = {
    card: 1,
    scorecard: SCORECARD,
    labels: ORDER,
    lists: new Set(['spring']),
    plan: PLAN,
    members: people,
    firstStatus: 'untouched',
    ...WORK,
    whole: condition => condition,
    ...rest,
  }
  const { book } = openBook(needsOf([]), newId)
  for (const [point, entries] of before) book.taken.set(point, entries)
  return { ...book, rules, book, people, desks: desks() }
}
type Batch = ReturnType<typeof newBatch>
const TOOLS: Tools = { newId, sign: { act: (act, id) => `/${act}/${id}`, again: slug => `/p/${slug}` } }
/** The whole path of an entry, as the house goes it. */
function work(batch: Batch, i: Intake): Case | NonNullable<ReturnType<typeof guard>> {
  const stopped = guard(batch.rules, batch.book, i)
  if (stopped) return stopped
  const now = applyBatch(batch.rules, TOOLS, batch.book, [{ kind: 'entry', at: i.at, by: null, intake: i }])[0] as Case
  give(batch.rules, TOOLS, now, batch.desks)
  settleEntry(batch.rules, TOOLS, batch.book, now)
  return now
}
const taken = (batch: Batch, i: Intake): Case => {
  const now = work(batch, i)
  if (!('lead' in now)) throw new Error(`not taken in: ${JSON.stringify(now)}`)
  return now
}

describe('an entry of somebody new', () => {
  it('makes a lead with all that the house can say of it, in the order in which it happens', () => {
    const { lead, changes, score, announcement, known } = taken(
      newBatch(),
      intake({ email: ' Ada@School.example', name: 'Ada', sector: 'school', words: 'A house\nfor thirty' }),
    )
    expect(known).toBe(false)
    expect(lead).toMatchObject({
      email: 'Ada@School.example',
      emailKey: 'ada@school.example',
      firstName: 'Ada',
      properties: { sector: 'school', message: 'A house\nfor thirty' },
      tags: ['teaches'],
      label: 'ready',
      ownerId: SORREL,
      status: 'untouched',
      waitingSince: NOON,
      submittedAt: NOON,
    })
    expect(EVENT_NAMES.filter(kind => kind in changes)).toEqual(['created', 'entry', 'label', 'owner'])
    expect(score).toMatchObject({ fit: 30, interest: 20 })
    expect(announcement).toEqual({ to: SORREL, subject: 'Ada: Visit (A school)', text: 'Ada is new through “Visit”.' })
  })
  it('tells nobody an owner who does not exist: without anybody there, only colleagues whom the form names', () => {
    const tell = { key: 't', members: ['gone', TANSY, TANSY], when: null, subject: '{{lead.first_name}}\n{{answer.sector}}', text: '' }
    const everybody = newBatch()
    const nobody = newBatch({ plan: planOf(lane('rest', { pool: seats('gone') })) })
    const definition = form(d => {
      does(d, 'tell', tell)
    })
    const [with_, without] = [everybody, nobody].map(batch =>
      taken(batch, intake({ email: 'bo@garden.example', name: 'Bo', sector: 'garden' }, { definition })),
    )
    expect([with_!.lead.ownerId, with_!.announcement?.to, with_!.notified.map(t => [t.to, t.subject])]).toEqual([
      ROWAN,
      ROWAN,
      [[TANSY, 'Bo A garden']],
    ])
    expect([without!.lead.ownerId, without!.announcement, without!.notified.map(t => t.to)]).toEqual([null, null, [TANSY]])
  })
})

it('is told to whoever stands in as well, while the owner is away, and to the owner alone once they are back', () => {
  const batch = newBatch()
  const { lead } = taken(batch, intake({ email: 'bo@garden.example', sector: 'garden' }))
  batch.people.set(lead.ownerId!, colleague(lead.ownerId!, { absences: [{ from: NOON - 1, until: NOON + 1, standIn: TANSY }] }))
  const away = taken(batch, intake({ email: 'bo@garden.example' }))
  expect([away.lead.ownerId, away.announcement?.to, away.notified.map(n => n.to)]).toEqual([ROWAN, ROWAN, [TANSY]])
  expect(away.notified[0]!.text).toContain(`${ROWAN} is away, and you stand in.`)
  const back = taken(batch, intake({ email: 'bo@garden.example' }, { at: NOON + 1 }))
  expect([back.announcement?.to, back.notified]).toEqual([ROWAN, []])
})

describe('what stops an entry', () => {
  it.each<[ReviewReason, 'held' | 'refused']>([
    ['trap', 'refused'],
    ['too_fast', 'refused'],
    ['origin', 'refused'],
    ['unproven', 'held'],
  ])('%s: %s, and nobody comes of it', (suspect, state) => {
    const batch = newBatch()
    expect(work(batch, intake({ email: 'ada@school.example' }, { suspect }))).toMatchObject({ state, reason: suspect })
    expect([batch.leads.size, batch.taken.size]).toEqual([0, 0])
  })
  it.each<[PeopleRules['unknown'], string | undefined]>([
    ['create', undefined],
    ['hold', 'held'],
    ['refuse', 'refused'],
  ])('somebody unknown where the form says %s', (unknown, state) => {
    const batch = newBatch()
    const definition = form(d => {
      d.people.unknown = unknown
    })
    expect((work(batch, intake({ email: 'ada@school.example' }, { definition })) as { state?: string }).state).toBe(state)
    taken(batch, intake({ email: 'ada@school.example' }))
    expect(taken(batch, intake({ email: 'ADA@school.example' }, { definition })).known).toBe(true)
  })
  it('the form is full, counted within the same batch, too', () => {
    const batch = newBatch({ taken: new Map([['p', 1]]) })
    const definition = form(d => {
      d.closing = { ...d.closing, entries: 2, text: 'All places are taken.' }
    })
    taken(batch, intake({ email: 'ada@school.example' }, { definition }))
    expect(work(batch, intake({ email: 'bo@school.example' }, { definition }))).toMatchObject({ closed: 'full' })
  })
})

describe('somebody who is known', () => {
  const come = (
    known: PeopleRules['known'],
    onDifference: OnDifference,
    key: string,
    before: string | string[],
    after: string | string[],
  ) => {
    const batch = newBatch()
    const definition = form(d => {
      d.people.known = known
      for (const q of d.questions) q.onDifference = onDifference
    })
    taken(batch, intake({ email: 'ada@school.example', ...(before.length && { [key]: before }) }, { definition }))
    const { lead, changes } = taken(batch, intake({ email: 'ada@school.example', [key]: after }, { definition }))
    const { changed = [] } = changes.entry!
    return [{ words: lead.properties.message, grows: lead.properties.crops }[key], changed.map(c => `${c.from} → ${c.to}`)]
  }
  it.each<[PeopleRules['known'], OnDifference, string, string | string[], string | string[], unknown, string[]]>([
    ['update', 'replace', 'words', 'one', 'two', 'two', ['one → two']],
    ['update', 'replace', 'words', '', 'two', 'two', []],
    ['update', 'replace', 'words', 'one', 'one', 'one', []],
    ['update', 'fill', 'words', 'one', 'two', 'one', []],
    ['update', 'fill', 'words', '', 'two', 'two', []],
    ['update', 'add', 'words', 'one', 'two', 'one\ntwo', ['one → one\ntwo']],
    ['update', 'add', 'words', 'one', 'one', 'one', []],
    ['update', 'add', 'grows', ['kale', 'leek'], ['leek', 'mint'], ['kale', 'leek', 'mint'], ['kale, leek → kale, leek, mint']],
    ['update', 'keep', 'words', '', 'two', undefined, []],
    ['fill', 'replace', 'words', 'one', 'two', 'one', []],
    ['fill', 'replace', 'words', '', 'two', 'two', []],
    ['leave', 'replace', 'words', '', 'two', undefined, []],
  ])('people: %s, question: %s, %s: %s then %s', (known, onDifference, key, before, after, stands, changes) => {
    expect(come(known, onDifference, key, before, after)).toEqual([stands, changes])
  })

  describe('by another property, who gives an address', () => {
    const known = { rule: 'phone', key: '+441632960001' }
    const mail = {
      subject: 'For {{lead.first_name}} of {{lead.company}}',
      text: 'You wrote {{answer.words}}. {{again}} {{correct}}',
      days: 0,
      goal: null,
      unlessClicked: false,
      when: null,
    }
    const writes = form(d => {
      does(d, 'mail', mail)
    })
    const phoned = (batch: Batch) => {
      const { lead } = taken(batch, intake({ name: 'Cy' }, { email: null, known }))
      lead.company = 'A secret'
      return lead
    }
    it('keeps it as a claim: it is not theirs, finds nobody, and gets one question and nothing else', () => {
      const batch = newBatch()
      const lead = phoned(batch)
      const first = taken(batch, intake({ email: 'Mallory@evil.example', words: 'see http://evil.example' }, { known, definition: writes }))
      expect(first.lead).toBe(lead)
      expect([lead.email, lead.emailKey, batch.leads.has(whoKey({ rule: 'email', key: 'mallory@evil.example' }))]).toEqual([
        null,
        null,
        false,
      ])
      expect(first.claim).toMatchObject({ address: 'Mallory@evil.example', isNew: true, wasAsked: false })
      expect(first.changes).toHaveProperty('claimed')
      expect(first.mails.map(l => [l.kind, l.recipient, l.due !== null])).toEqual([
        ['confirm', 'Mallory@evil.example', true],
        ['mail', 'Mallory@evil.example', false],
      ])
      expect(first.mails[0]!.text).toContain('gave Mallory\\@evil\\.example as their e-mail address')
      // The mail that waits says nothing that this entry did not say, and leads nowhere where Cy is known.
      expect([first.mails[1]!.subject, first.mails[1]!.text]).toEqual([
        'For of',
        expect.stringMatching(/^You wrote see evil\u2060\\\.example\. <\/p\/visit> <\/correct\/id \d+>$/),
      ])
      const again = taken(batch, intake({ email: 'mallory@EVIL.example' }, { known, definition: writes }))
      expect(again.mails.map(l => [l.kind, l.due, l.claim])).toEqual([['mail', null, first.claim!.id]])
      expect(lead.claims).toHaveLength(1)
      // By itself that address makes somebody else.
      expect(taken(batch, intake({ email: 'mallory@evil.example' })).lead).not.toBe(lead)
    })
    it('never takes another’s, and what was judged not theirs gets nothing more', () => {
      const batch = newBatch()
      const lead = phoned(batch)
      const { lead: ada } = taken(batch, intake({ email: 'ada@school.example' }))
      expect(taken(batch, intake({ email: 'ada@school.example' }, { known })).lead).toBe(lead)
      expect([lead.email, ada.email]).toEqual([null, 'ada@school.example'])
      lead.claims[0]!.theirs = false
      const after = taken(batch, intake({ email: 'ada@school.example' }, { known, definition: writes }))
      expect([after.claim, after.recipient, after.mails]).toEqual([null, null, []])
    })
    it('is written to where they are known by it, and where it makes them', () => {
      const batch = newBatch()
      const { lead, claim, mails } = taken(batch, intake({ email: 'cy@garden.example' }, { known, definition: writes }))
      expect([lead.email, claim, mails.map(l => l.recipient)]).toEqual(['cy@garden.example', null, ['cy@garden.example']])
      const back = taken(batch, intake({ email: 'CY@garden.example' }, { known, definition: writes }))
      expect([back.lead === lead, back.claim]).toEqual([true, null])
      // Without an address it goes to the one that is theirs.
      expect(taken(batch, intake({ name: 'Cy' }, { email: null, known, definition: writes })).mails.map(l => l.recipient)).toEqual([
        'cy@garden.example',
      ])
    })
    it('is shown nothing from before while nobody has vouched for an address that was claimed once', () => {
      const batch = newBatch()
      const lead = phoned(batch)
      Object.assign(lead, { email: 'm@evil.example', emailKey: 'm@evil.example', confirmedAt: NOON, guardedAt: NOON })
      batch.leads.set(whoKey({ rule: 'email', key: 'm@evil.example' }), lead)
      const { mails } = taken(batch, intake({ email: 'm@evil.example', words: 'hello' }, { definition: writes }))
      expect([mails[0]!.subject, mails[0]!.text]).toEqual(['For of', expect.stringMatching(/^You wrote hello\. <\/p\/visit> <\/correct/)])
      lead.guardedAt = null
      expect(taken(batch, intake({ email: 'm@evil.example', words: 'hello' }, { definition: writes })).mails[0]!.subject).toBe(
        'For Cy of A secret',
      )
    })
    it('is not written to about the past', () => {
      const batch = newBatch()
      phoned(batch)
      const { claim, mails } = taken(batch, intake({ email: 'x@garden.example' }, { known, definition: writes, via: 'archive' }))
      expect([claim?.address, mails]).toEqual(['x@garden.example', []])
    })
  })
  it('keeps an owner who is there, and gets another when theirs has left', () => {
    const batch = newBatch()
    const { lead } = taken(batch, intake({ email: 'bo@garden.example', sector: 'garden' }))
    const owner = lead.ownerId!
    taken(
      batch,
      intake(
        { email: 'bo@garden.example' },
        {
          definition: form(d => {
            does(d, 'owner', { owner: TANSY })
          }),
        },
      ),
    )
    expect(lead.ownerId).toBe(owner)
    batch.people.delete(owner)
    const { changes } = taken(
      batch,
      intake(
        { email: 'bo@garden.example' },
        {
          definition: form(d => {
            does(d, 'owner', { owner: TANSY })
          }),
        },
      ),
    )
    expect(lead.ownerId).toBe(TANSY)
    expect(changes.owner).toEqual({ from: owner, to: TANSY, point: 'Visit', by: 'point' })
  })
  it('is not lifted above the score but by a floor, which stays and never sinks', () => {
    const batch = newBatch()
    const floor = (label: string | null) =>
      form(d => {
        if (label) does(d, 'label', { label })
      })
    const labels = ([null, 'warming', 'early', null] as const).map(
      label => taken(batch, intake({ email: 'bo@garden.example' }, { definition: floor(label), at: NOON + count * 100 * DAY })).lead.label,
    )
    expect(labels).toEqual(['early', 'warming', 'warming', 'warming'])
  })
})

describe('whatever comes, in whatever order', () => {
  const who = fc.constantFrom('ada@school.example', 'ADA@School.example', 'bo@garden.example', 'cy@lane.example', 'di@lane.example')
  const entry = fc.record({
    who,
    sector: fc.constantFrom(undefined, 'school', 'garden'),
    days: fc.nat(20),
    step: fc.constantFrom(null, 'Call back'),
    label: fc.constantFrom(null, ...ORDER),
  })

  it('people, turns, scores and lines stay true to each other', () => {
    fc.assert(
      fc.property(fc.array(entry, { minLength: 1, maxLength: 25 }), entries => {
        const batch = newBatch()
        const cases = entries
          .sort((a, b) => a.days - b.days)
          .map(e =>
            taken(
              batch,
              intake(
                { email: e.who, ...(e.sector && { sector: e.sector }) },
                {
                  at: NOON + e.days * DAY,
                  definition: form(d => {
                    if (e.step) does(d, 'next_step', { text: e.step, days: 2 })
                    if (e.label) does(d, 'label', { label: e.label })
                  }),
                },
              ),
            ),
          )
        const leads = [...new Set(cases.map(c => c.lead))]
        expect(leads.map(l => l.emailKey).sort()).toEqual([...new Set(entries.map(e => e.who.toLowerCase()))].sort())
        expect(batch.taken.get('p')).toBe(entries.length)

        const owned = new Map<LeadState, number>()
        for (const lead of leads) {
          const own = cases.filter(c => c.lead === lead)
          expect(own.map(c => c.known)).toEqual(own.map((_, i) => i > 0))
          expect(lead.waitingSince).toBe(own[0]!.intake.at)
          expect(own.filter(c => c.changes.created)).toHaveLength(1)
          const floors = own.flatMap(c => actionsOf(c.intake.edition.definition, 'label')).map(({ label: l }) => ORDER.indexOf(l))
          expect(ORDER.indexOf(lead.label!)).toBeGreaterThanOrEqual(Math.max(0, ...floors))
          owned.set(lead, own.filter(c => c.changes.owner).length)
          expect(own.filter(c => c.changes.next_step).length).toBe(lead.nextStep === null ? 0 : 1)
          const { fit, interest } = scoreAt(lead.reasons, own.at(-1)!.intake.at, SCORECARD.halfLifeDays)
          expect(own.at(-1)!.score).toMatchObject({ fit, interest })
          expect(lead.reasons.filter(r => r.axis === 'interest')).toHaveLength(own.length)
        }
        expect([...owned.values()]).toEqual(leads.map(() => 1))
        const given = (key: string) => leads.filter(lead => lead.lane === key)
        const ofRest = [ROWAN, SORREL, TANSY].map(id => given('rest').filter(lead => lead.ownerId === id).length)
        expect(Math.max(...ofRest) - Math.min(...ofRest)).toBeLessThanOrEqual(1)
        expect(given('rest').length + given('schools').length).toBe(leads.length)
      }),
    )
  })
})
