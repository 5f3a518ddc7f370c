import { whoKey, type Aside, type Case, type Desk, type Intake } from '#core/capture/case'
import { work } from '#core/capture/steps'
import type { Condition } from '#core/conditions'
import { factsOf, type LeadState } from '#core/leads'
import type { Turns } from '#core/routing/plan'
import { asksMore, pastOf, personFacts, type Known, type PastDeed } from '#core/segments/person'
import { scoreAt, type Deed } from '#core/scoring/score'
import { writtenOut } from '#core/segments/segment'
import { lockTurns, whatIsKnown, writeCases, type Known as KnownBefore } from '#db/capture'
import type { Commit } from '#db/brief'
import type { Statement, Tx } from '#db/client'
import { deedsOfVisitor, entryFacts, knownOf } from '#db/segments'
import { unclaimedDeeds } from '#db/trail'
import { newId } from '#server/ids'
import { personalAddress, signedAddress } from '#server/letters'
import type { Standing } from '#server/standing'
import { trailDeed } from '#server/trail/deeds'

/** What came of an entry. */
export type Accepted =
  | { kind: 'accepted'; entry: string; thanks: string; now: Case }
  | { kind: 'repeated'; entry: string; thanks: string }
  | { kind: 'set aside'; entry: string; thanks: string; aside: Aside }
  | { kind: 'key reused' }
  | { kind: 'closed'; text: string }

/**
 * The path of entries, from guarded to announced, in the transaction at hand:
 * identify → record → score → label → route → announce (`core/capture/steps`).
 * Entries that arrive together share it; the result has their order.
 * @param how `mails`: whether members are mailed, which they are not about the past; `locked`: whether the turns
 *   are locked already; `commit`: sent along with the last statements, where the transaction ends with them
 */
export async function accept(tx: Tx, standing: Standing, intakes: Intake[], how: { mails: boolean; locked?: boolean; commit?: Commit }): Promise<Accepted[]> {
  const { desk, before, twins, counted } = await openDesk(tx, standing, intakes, how.locked ?? false)
  const results: Accepted[] = []
  let cases: Case[] = []
  let asides: Aside[] = []
  const rules = [...new Set([...standing.rules, ...intakes.flatMap(i => i.known?.rule ?? [])])]
  const at = new Date(Math.max(...intakes.map(i => i.at)))
  const sent: Statement[] = []
  /** Sends what came of some entries; whose turn it was then is told with the last of them. */
  const send = (turnsGiven: ReturnType<typeof counted>) => {
    if (!cases.length && !asides.length && !turnsGiven.length) return
    for (const statement of writeCases(tx, { cases, asides, mails: how.mails, rules, turnsGiven, at, newId })) {
      sent.push(statement.execute())
      statement.catch(() => {})
    }
    cases = []
    asides = []
  }
  const nowKnown = new Map<string, Earlier>()
  const half = intakes.length >= MANY ? Math.ceil(intakes.length / 2) : -1
  for (const [i, intake] of intakes.entries()) {
    if (i === half && cases.length) {
      send([])
      // The database works on that while we go on with the rest.
      await new Promise(done => setImmediate(done))
    }
    const key = intake.idempotencyKey && `${intake.point.id} ${intake.idempotencyKey}`
    const earlier = key ? before.get(key) ?? nowKnown.get(key) : undefined
    if (earlier) {
      results.push(again(earlier, intake))
      continue
    }
    const same = twins.get(twin(intake))
    if (same) {
      results.push({ kind: 'repeated', ...same })
      continue
    }
    const now = work(desk, intake)
    if ('closed' in now) {
      results.push({ kind: 'closed', text: now.closed })
      continue
    }
    const told = { entry: intake.entryId, thanks: intake.edition.definition.thanks }
    if ('lead' in now) cases.push(now)
    else asides.push(now)
    const result: Accepted = 'lead' in now ? { kind: 'accepted', ...told, now } : { kind: 'set aside', ...told, aside: now }
    if (key) nowKnown.set(key, { ...told, fingerprint: intake.fingerprint, aside: 'lead' in now ? null : now })
    if ('lead' in now) twins.set(twin(intake), told)
    results.push(result)
  }
  send(counted())
  await Promise.all([...sent, how.commit?.()])
  return results
}

/** The first half of so many entries is sent to be written before the rest is worked out. */
const MANY = 8

/** What came of an entry under a key that comes again. */
interface Earlier { entry: string; thanks: string; fingerprint: string; aside: Pick<Aside, 'state' | 'reason'> | null }

/** The same key again gives the same answer, also where that was a refusal. */
function again({ entry, thanks, fingerprint, aside }: Earlier, intake: Intake): Accepted {
  if (fingerprint !== intake.fingerprint) return { kind: 'key reused' }
  return aside ? { kind: 'set aside', entry, thanks, aside: { intake, state: aside.state, reason: aside.reason } } : { kind: 'repeated', entry, thanks }
}

/** The same answers to the same point, and so by the same person: within a minute they are one entry, pressed twice. */
const twin = (i: Intake) => `${i.point.id} ${i.fingerprint}`
const TWIN_MS = 60_000

/** Fetches what the steps need to know, in one pipeline, and locks what they may change. */
async function openDesk(tx: Tx, standing: Standing, intakes: Intake[], locked: boolean) {
  const keys = intakes.flatMap(i => i.idempotencyKey ? [{ point: i.point.id, key: i.idempotencyKey }] : [])
  const visitors = [...new Set(intakes.flatMap(i => i.visitor ?? []))]
  const limited = [...new Set(intakes.filter(i => i.edition.definition.closing.entries !== null).map(i => i.point.id))]
  const emails = [...new Set(intakes.flatMap(i => i.email?.key ?? []))].sort()
  const persons = intakes.flatMap(i => i.known ?? [])
  const [from, until] = [new Date(Math.min(...intakes.map(i => i.at)) - TWIN_MS), new Date(Math.max(...intakes.map(i => i.at)))]
  const [, { entries, leads, others, lately, turns: turnRows, taken }, views] = await Promise.all([
    locked || lockTurns(tx),
    whatIsKnown(tx, { keys, emails, persons, limited, from, until }),
    visitors.length ? unclaimedDeeds(tx, visitors) : [],
  ])
  const before = new Map(entries.map(e => [`${e.pointId} ${e.idempotencyKey}`,
    { entry: e.id, thanks: e.thanks, fingerprint: e.fingerprint, aside: e.state !== 'complete' && e.reason ? { state: e.state, reason: e.reason } : null }]))
  const twins = new Map(lately.map(e => [`${e.pointId} ${e.fingerprint}`, { entry: e.id, thanks: e.thanks }]))
  const lanes = new Map<string, Turns>()
  const turns = (lane: string) => lanes.get(lane) ?? lanes.set(lane, new Map()).get(lane)!
  for (const row of turnRows) turns(row.lane).set(row.memberId, row.given)
  const start = new Map(turnRows.map(r => [`${r.lane} ${r.memberId}`, r.given]))
  const counted = () => [...lanes].flatMap(([lane, counts]) => [...counts]
    .filter(([member, given]) => start.get(`${lane} ${member}`) !== given)
    .map(([member, given]) => ({ lane, member, given })))

  // What conditions ask for beside the lead itself is fetched only where one in use asks for it.
  const whole = (c: Condition) => writtenOut(c, standing.segments)
  const asks = standing.asksMore || intakes.some(i => i.edition.definition.afterwards.tell.some(t => t.when && asksMore(whole(t.when))))
  const people = asks ? await knownOf(tx, [...new Set([...leads, ...others.map(o => o.lead)].map(l => l.id))]) : null
  const ofVisitors = people ? new Map(await Promise.all(visitors.map(async v => [v, await deedsOfVisitor(tx, v)] as const))) : null
  const deeds = new Map<string, Deed[]>()
  for (const v of views) deeds.set(v.visitorId, [...deeds.get(v.visitorId) ?? [], trailDeed(v)])
  const desk: Desk = {
    scorecard: standing.scorecard, labels: standing.labelOrder, plan: standing.plan, members: standing.members, firstStatus: standing.firstStatus, sign: { act: signedAddress, again: personalAddress },
    taken: new Map(taken.map(t => [t.pointId, t.entries])),
    leads: onDesk(leads, others), turns, newId,
    whole, about: now => people ? aboutCase(people, ofVisitors!, now, standing.scorecard.halfLifeDays) : { facts: factsOf(now.lead) },
    // Once they are counted for somebody they are nobody else's, in this batch as in the database.
    deedsOf(visitor) {
      const own = deeds.get(visitor) ?? []
      deeds.delete(visitor)
      return own
    },
  }
  return { desk, before, twins, counted }
}

const UNKNOWN: Known = { lists: [], fit: 0, interest: 0, statusSince: '', firstSource: null, latestSource: null, lastVisit: null, deeds: [] }

/** What conditions may ask of the lead of a case: what was known, what this browser did before, and the entry itself, which counts once. */
function aboutCase(known: Map<string, Known>, ofVisitors: Map<string, PastDeed[]>, { intake, lead }: Pick<Case, 'intake' | 'lead'>, halfLifeDays: number) {
  let own = known.get(lead.id)
  if (!own) known.set(lead.id, own = { ...UNKNOWN, statusSince: new Date(intake.at).toISOString().slice(0, 10), deeds: [] })
  const joining = (intake.visitor && ofVisitors.get(intake.visitor)) || []
  if (intake.visitor) ofVisitors.delete(intake.visitor)
  const visits = joining.filter(d => d.kind === 'visit').sort((a, b) => a.at - b.at)
  const entry: PastDeed & { id: string } = { id: intake.entryId, kind: 'entry', at: intake.at, facts: entryFacts(intake.point.key, intake.answers) }
  const counted = own.deeds.some(d => (d as { id?: string }).id === intake.entryId)
  own.deeds = [...own.deeds, ...joining, ...(counted ? [] : [entry])]
  if (visits.length) Object.assign(own, { firstSource: own.firstSource ?? visits[0]!.facts['visit.source'], latestSource: visits.at(-1)!.facts['visit.source'], lastVisit: new Date(visits.at(-1)!.at).toISOString().slice(0, 10) })
  own.lists = [...new Set([...own.lists, ...intake.edition.definition.afterwards.lists])]
  const { fit, interest } = scoreAt(lead.reasons, intake.at, halfLifeDays)
  Object.assign(own, { fit, interest })
  return { facts: personFacts(lead, own), past: pastOf(own.deeds, intake.at) }
}

/** Leads by all that they were found by: one lead is one object, however it was found. */
function onDesk(leads: LeadState[], others: KnownBefore['others']): Desk['leads'] {
  const byId = new Map([...others.map(o => o.lead), ...leads].map(l => [l.id, l]))
  const found = new Map<string, LeadState>()
  for (const { who, lead } of others) found.set(whoKey(who), byId.get(lead.id)!)
  for (const lead of byId.values()) if (lead.emailKey !== null) found.set(whoKey({ rule: 'email', key: lead.emailKey }), lead)
  return found
}
