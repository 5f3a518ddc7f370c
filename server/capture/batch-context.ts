import { whoKey, type ForReview, type Case, type BatchContext, type Intake } from '#core/capture/case'
import type { Condition } from '#core/conditions/condition'
import { attributesOf, type LeadState } from '#core/leads'
import type { Turns } from '#core/routing/plan'
import { totalsAt, type Activity } from '#core/scoring/score'
import { needsHistory, pastOf, personAttributes, type Known, type PastActivity } from '#core/segments/person'
import { expanded } from '#core/segments/segment'
import { whatIsKnown, type Known as KnownBefore } from '#db/capture'
import type { Tx } from '#db/client'
import { activitiesOfVisitor, entryAttributes, knownOf } from '#db/segments'
import { unclaimedActivities } from '#db/trail'
import { newId } from '#server/ids'
import { personalAddress, signedAddress } from '#server/letters'
import type { Ruleset } from '#server/ruleset'
import { trailActivity } from '#server/trail/activities'

/** What came of an entry under a key that comes again. */
export interface Earlier { entry: string; thanks: string; fingerprint: string; review: Pick<ForReview, 'state' | 'reason'> | null }

/** The same answers to the same point, and so by the same person: within a minute they are one entry, pressed twice. */
export const twin = (i: Intake) => `${i.point.id} ${i.fingerprint}`
const TWIN_MS = 60_000

/**
 * The batch on which a batch of entries is worked on. A batch may come in parts: what a part has to know is asked for as
 * soon as it is there (`ask`), and laid on the batch before it is worked on (`learn`). What the batch knows by then it has
 * from the parts before, which the database may not have heard of yet: the batch is right.
 */
export function openBatch(tx: Tx, ruleset: Ruleset) {
  const before = new Map<string, Earlier>()
  const twins = new Map<string, { entry: string; thanks: string }>()
  const lanes = new Map<string, Turns>()
  const turns = (lane: string) => lanes.get(lane) ?? lanes.set(lane, new Map()).get(lane)!
  const start = new Map<string, number>()
  const leads = new Map<string, LeadState>()
  const leadsById = new Map<string, LeadState>()
  const taken = new Map<string, number>()
  const activities = new Map<string, Activity[]>()
  const [visitors, points] = [new Set<string>(), new Set<string>()]
  let people: Map<string, Known> | null = null
  const ofVisitors = new Map<string, PastActivity[]>()
  const whole = (c: Condition) => expanded(c, ruleset.segments)
  const asksOf = (intakes: Intake[]) => ruleset.needsHistory || intakes.some(i => i.edition.definition.afterwards.tell.some(t => t.when && needsHistory(whole(t.when))))

  const batch: BatchContext = {
    scorecard: ruleset.scorecard, labels: ruleset.labelOrder, plan: ruleset.plan, members: ruleset.members, firstStatus: ruleset.firstStatus, sign: { act: signedAddress, again: (slug, lead) => lead === null ? `${process.env.CAVLIN_URL ?? ''}/p/${slug}` : personalAddress(slug, lead) },
    taken, leads, turns, newId,
    whole, about: now => people ? aboutCase(people, ofVisitors, now, ruleset.scorecard.halfLifeDays) : { attributes: attributesOf(now.lead) },
    // Once they are counted for somebody they are nobody else's, in this batch as in the database.
    activitiesOf(visitor) {
      const own = activities.get(visitor) ?? []
      activities.delete(visitor)
      return own
    },
  }

  /** Asks for what some entries have to know, in one pipeline, and locks what they may change. */
  async function ask(intakes: Intake[]) {
    const keys = intakes.flatMap(i => i.idempotencyKey ? [{ point: i.point.id, key: i.idempotencyKey }] : [])
    const fresh = unseen(visitors, intakes.flatMap(i => i.visitor ?? []))
    const limited = unseen(points, intakes.filter(i => i.edition.definition.closing.entries !== null).map(i => i.point.id))
    const emails = [...new Set(intakes.flatMap(i => i.email?.key ?? []))].sort()
    const persons = intakes.flatMap(i => i.known ?? [])
    const [from, until] = [new Date(Math.min(...intakes.map(i => i.at)) - TWIN_MS), new Date(Math.max(...intakes.map(i => i.at)))]
    const [known, views] = await Promise.all([whatIsKnown(tx, { keys, emails, persons, limited, from, until }), fresh.length ? unclaimedActivities(tx, fresh) : []])
    return { known, views, fresh, asks: asksOf(intakes) }
  }

  /** Lays on the batch what was asked for. What conditions ask for beside the lead itself is fetched only where one in use asks for it. */
  async function learn({ known, views, fresh, asks }: Awaited<ReturnType<typeof ask>>): Promise<void> {
    for (const e of known.entries) before.set(`${e.pointId} ${e.idempotencyKey}`, { entry: e.id, thanks: e.thanks, fingerprint: e.fingerprint, review: e.state !== 'complete' && e.reason ? { state: e.state, reason: e.reason } : null })
    for (const e of known.lately) addNew(twins, `${e.pointId} ${e.fingerprint}`, { entry: e.id, thanks: e.thanks })
    for (const { pointId, entries } of known.taken) taken.set(pointId, entries + (taken.get(pointId) ?? 0))
    for (const { lane, memberId, given } of known.turns) {
      if (start.has(`${lane} ${memberId}`)) continue
      start.set(`${lane} ${memberId}`, given)
      addNew(turns(lane), memberId, given)
    }
    for (const v of views) activities.set(v.visitorId, [...activities.get(v.visitorId) ?? [], trailActivity(v)])
    lay(leads, leadsById, known)
    if (!asks) return
    const own = new Set([...known.leads, ...known.others.map(o => o.lead)].map(l => l.id).filter(id => !people?.has(id)))
    const [more, past] = await Promise.all([knownOf(tx, [...own]), Promise.all(fresh.map(async v => [v, await activitiesOfVisitor(tx, v)] as const))])
    people = new Map([...more, ...people ?? []])
    for (const [visitor, did] of past) ofVisitors.set(visitor, did)
  }

  /** The turns that were given since the batch was opened. */
  const counted = () => [...lanes].flatMap(([lane, counts]) => [...counts]
    .filter(([member, given]) => start.get(`${lane} ${member}`) !== given)
    .map(([member, given]) => ({ lane, member, given })))

  return { batch, ask, learn, before, twins, counted }
}

/** Those of some that were not seen before, each once; seen from now on. */
function unseen(seen: Set<string>, some: string[]): string[] {
  const fresh = [...new Set(some)].filter(s => !seen.has(s))
  for (const s of fresh) seen.add(s)
  return fresh
}

const addNew = <V>(map: Map<string, V>, key: string, value: V) => void (map.has(key) || map.set(key, value))

/** Lays leads on the batch by all that they were found by: one lead is one object, however it was found. */
function lay(found: BatchContext['leads'], byId: Map<string, LeadState>, { leads, others }: Pick<KnownBefore, 'leads' | 'others'>): void {
  for (const lead of [...leads, ...others.map(o => o.lead)]) addNew(byId, lead.id, lead)
  for (const { who, lead } of others) addNew(found, whoKey(who), byId.get(lead.id)!)
  for (const { emailKey, id } of [...leads, ...others.map(o => o.lead)]) if (emailKey !== null) addNew(found, whoKey({ rule: 'email', key: emailKey }), byId.get(id)!)
}

const UNKNOWN: Known = { lists: [], fit: 0, interest: 0, statusSince: '', firstSource: null, latestSource: null, lastVisit: null, activities: [] }

/** What conditions may ask of the lead of a case: what was known, what this browser did before, and the entry itself, which counts once. */
function aboutCase(known: Map<string, Known>, ofVisitors: Map<string, PastActivity[]>, { intake, lead }: Pick<Case, 'intake' | 'lead'>, halfLifeDays: number) {
  let own = known.get(lead.id)
  if (!own) known.set(lead.id, own = { ...UNKNOWN, statusSince: new Date(intake.at).toISOString().slice(0, 10), activities: [] })
  const joining = (intake.visitor && ofVisitors.get(intake.visitor)) || []
  if (intake.visitor) ofVisitors.delete(intake.visitor)
  const visits = joining.filter(d => d.kind === 'visit').sort((a, b) => a.at - b.at)
  const entry: PastActivity & { id: string } = { id: intake.entryId, kind: 'entry', at: intake.at, attributes: entryAttributes(intake.point.key, intake.answers) }
  const counted = own.activities.some(d => (d as { id?: string }).id === intake.entryId)
  own.activities = [...own.activities, ...joining, ...(counted ? [] : [entry])]
  if (visits.length) Object.assign(own, { firstSource: own.firstSource ?? visits[0]!.attributes['visit.source'], latestSource: visits.at(-1)!.attributes['visit.source'], lastVisit: new Date(visits.at(-1)!.at).toISOString().slice(0, 10) })
  own.lists = [...new Set([...own.lists, ...intake.edition.definition.afterwards.lists])]
  Object.assign(own, totalsAt(lead.reasons, intake.at, halfLifeDays))
  return { attributes: personAttributes(lead, own), past: pastOf(own.activities, intake.at) }
}
