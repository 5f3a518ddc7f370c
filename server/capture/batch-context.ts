import { whoKey, type ForReview, type Case, type BatchContext, type Intake } from '#core/capture/case'
import type { ActivityTest, Condition } from '#core/conditions/condition'
import type { LeadState } from '#core/leads/lead'
import type { Turns } from '#core/routing/plan'
import type { Activity } from '#core/scoring/score'
import { withMoments, withVisits, type Beside } from '#core/leads/beside'
import { needsNothing, needsOf, nothingBeside, type Needs } from '#core/leads/needs'
import { entryAttributes, isLike } from '#core/leads/past'
import { expanded } from '#core/segments/segment'
import { whatIsKnown, type Known as KnownBefore } from '#db/capture'
import type { Tx } from '#db/client'
import { besideLeads, besideVisitors } from '#db/beside'
import { unclaimedActivities } from '#db/trail'
import { newId } from '#server/ids'
import { personalAddress, signedAddress } from '#server/letters'
import type { Ruleset } from '#server/ruleset'
import { trailActivity } from '#server/trail/activities'

/** What came of an entry under a key that comes again. */
export interface Earlier {
  entry: string
  thanks: string
  fingerprint: string
  review: Pick<ForReview, 'state' | 'reason'> | null
}

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
  const beside = besideOf(ruleset.needs)
  const whole = (c: Condition) => expanded(c, ruleset.segments)
  const needsFor = (intakes: Intake[]): Needs => {
    const asked = intakes.flatMap(i => i.edition.definition.afterwards.tell.flatMap(t => (t.when ? [whole(t.when)] : [])))
    return asked.length ? needsOf(asked, { beside: new Set(ruleset.needs.beside), tests: new Map(ruleset.needs.tests) }) : ruleset.needs
  }

  const batch: BatchContext = {
    scorecard: ruleset.scorecard,
    labels: ruleset.labelOrder,
    plan: ruleset.plan,
    members: ruleset.members,
    firstStatus: ruleset.firstStatus,
    sign: {
      act: signedAddress,
      again: (slug, lead) => (lead === null ? `${process.env.CAVLIN_URL ?? ''}/p/${slug}` : personalAddress(slug, lead)),
    },
    taken,
    leads,
    turns,
    newId,
    whole,
    about: now => ({ lead: now.lead, beside: beside.of(now), now: now.intake.at, halfLifeDays: ruleset.scorecard.halfLifeDays }),
    // Once they are counted for somebody they are nobody else's, in this batch as in the database.
    activitiesOf(visitor) {
      const own = activities.get(visitor) ?? []
      activities.delete(visitor)
      return own
    },
  }

  /** Asks for what some entries have to know, in one pipeline, and locks what they may change. */
  async function ask(intakes: Intake[]) {
    const keys = intakes.flatMap(i => (i.idempotencyKey ? [{ point: i.point.id, key: i.idempotencyKey }] : []))
    const fresh = unseen(
      visitors,
      intakes.flatMap(i => i.visitor ?? []),
    )
    const limited = unseen(
      points,
      intakes.filter(i => i.edition.definition.closing.entries !== null).map(i => i.point.id),
    )
    const emails = [...new Set(intakes.flatMap(i => i.email?.key ?? []))].sort()
    const persons = intakes.flatMap(i => i.known ?? [])
    const [from, until] = [new Date(Math.min(...intakes.map(i => i.at)) - TWIN_MS), new Date(Math.max(...intakes.map(i => i.at)))]
    const [known, views] = await Promise.all([
      whatIsKnown(tx, { keys, emails, persons, limited, from, until }),
      fresh.length ? unclaimedActivities(tx, fresh) : [],
    ])
    return { known, views, fresh, needs: needsFor(intakes), since: from.getTime() }
  }

  /** Lays on the batch what was asked for. What conditions ask for beside the lead itself is fetched only where one in use asks for it. */
  async function learn({ known, views, fresh, needs, since }: Awaited<ReturnType<typeof ask>>): Promise<void> {
    for (const e of known.entries)
      before.set(`${e.pointId} ${e.idempotencyKey}`, {
        entry: e.id,
        thanks: e.thanks,
        fingerprint: e.fingerprint,
        review: e.state !== 'complete' && e.reason ? { state: e.state, reason: e.reason } : null,
      })
    for (const e of known.lately) addNew(twins, `${e.pointId} ${e.fingerprint}`, { entry: e.id, thanks: e.thanks })
    for (const { pointId, entries } of known.taken) taken.set(pointId, entries + (taken.get(pointId) ?? 0))
    for (const { lane, memberId, given } of known.turns) {
      if (start.has(`${lane} ${memberId}`)) continue
      start.set(`${lane} ${memberId}`, given)
      addNew(turns(lane), memberId, given)
    }
    for (const v of views) activities.set(v.visitorId, [...(activities.get(v.visitorId) ?? []), trailActivity(v)])
    lay(leads, leadsById, known)
    if (needsNothing(needs)) return
    const own = [...new Set([...known.leads, ...known.others.map(o => o.lead)].map(l => l.id))]
    const nobody = new Map<string, Beside>()
    const [ofLeads, ofVisitors] = await Promise.all([
      own.length ? besideLeads(tx, tx`select id from unnest(${own}::uuid[]) as id`, needs, since) : nobody,
      fresh.length ? besideVisitors(tx, fresh, needs, since) : nobody,
    ])
    beside.learn(needs, ofLeads, ofVisitors)
  }

  /** The turns that were given since the batch was opened. */
  const counted = () =>
    [...lanes].flatMap(([lane, counts]) =>
      [...counts].filter(([member, given]) => start.get(`${lane} ${member}`) !== given).map(([member, given]) => ({ lane, member, given })),
    )

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
  for (const { emailKey, id } of [...leads, ...others.map(o => o.lead)])
    if (emailKey !== null) addNew(found, whoKey({ rule: 'email', key: emailKey }), byId.get(id)!)
}

/**
 * What stands beside the leads of a batch: what was loaded, and what the entries of the batch add, of which the database may not
 * have heard yet. What their browsers did before they told who they are counts as theirs from then on.
 */
function besideOf(needs: Needs) {
  const all: Needs = { beside: new Set(needs.beside), tests: new Map(needs.tests) }
  const loaded = new Map<string, Beside>()
  const nobodys = new Map<string, Beside>()
  const joined = new Map<string, Beside[]>()
  const came = new Map<string, Intake[]>()
  const add = <V>(map: Map<string, V[]>, key: string, value: V) => void map.set(key, [...(map.get(key) ?? []), value])

  /** What entries add to the moments of a test. */
  const entered = (test: ActivityTest, intakes: Intake[]): number[] =>
    test.did !== 'entry'
      ? []
      : intakes.flatMap(i => {
          const activity = { kind: 'entry' as const, at: i.at, attributes: entryAttributes(i.point.key, i.answers) }
          return isLike(activity, test.where, i.at) ? [i.at] : []
        })

  return {
    /** Of a lead that an earlier part of the batch had loaded, only what it did not ask for. */
    learn(more: Needs, leads: Map<string, Beside>, visitors: Map<string, Beside>): void {
      for (const need of more.beside) all.beside.add(need)
      for (const [key, test] of more.tests) all.tests.set(key, test)
      for (const [id, own] of leads) {
        const before = loaded.get(id)
        loaded.set(id, before ? { ...own, ...before, moments: new Map([...own.moments, ...before.moments]) } : own)
      }
      for (const [id, own] of visitors) nobodys.set(id, own)
    },
    of({ intake, lead }: Pick<Case, 'intake' | 'lead'>): Beside {
      if (needsNothing(all)) return nothingBeside(all)
      if (!came.get(lead.id)?.includes(intake)) add(came, lead.id, intake)
      const joining = intake.visitor === null ? undefined : nobodys.get(intake.visitor)
      if (joining) {
        nobodys.delete(intake.visitor!)
        add(joined, lead.id, joining)
      }
      const base = loaded.get(lead.id) ?? nothingBeside(all)
      const [intakes, browsers] = [came.get(lead.id)!, joined.get(lead.id) ?? []]
      return {
        ...(base.lists && { lists: [...new Set([...base.lists, ...intakes.flatMap(i => i.edition.definition.afterwards.lists)])] }),
        ...(base.lastEntryAt !== undefined && { lastEntryAt: Math.max(base.lastEntryAt ?? -Infinity, ...intakes.map(i => i.at)) }),
        ...(base.visits && { visits: browsers.reduce((visits, b) => (b.visits ? withVisits(visits, b.visits) : visits), base.visits) }),
        moments: new Map(
          [...base.moments].map(([key, moments]) => {
            const test = all.tests.get(key)!
            return [key, withMoments(test, moments, entered(test, intakes), ...browsers.map(b => b.moments.get(key) ?? []))]
          }),
        ),
      }
    },
  }
}
