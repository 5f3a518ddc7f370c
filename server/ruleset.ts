import type { Condition } from '#core/conditions/condition'
import type { Colleague } from '#core/routing/colleagues'
import { NO_PLAN, type RoutingPlan } from '#core/routing/plan'
import { sayIn, useOwnTexts, type OwnTexts } from '#core/languages/say'
import type { Reading } from '#core/points/values'
import type { Scorecard } from '#core/scoring/scorecard'
import { asksForScore, needsOf, type Needs } from '#core/leads/needs'
import { concerns, type Topics } from '#core/live/topics'
import { expanded, segmentsIn } from '#core/segments/segment'
import type { House, Stage, Vocabulary } from '#core/vocabulary'
import type { Db } from '#db/client'
import { vocabulary } from '#db/house'
import { lists, type List } from '#db/lists'
import { absencesFrom, availabilities, type AbsenceRow, type Availability, type Member } from '#db/members'
import { editionOf, pointByKey, type Edition, type Point } from '#db/points'
import { rulesInUse } from '#db/identity'
import { livePlan } from '#db/routing'
import { liveScorecard } from '#db/scoring'
import { complete } from '#core/shapes'
import { Telling } from '#core/telling/telling'
import type { NoticeTexts } from '#core/telling/worded'
import { tellingOfHouse } from '#db/telling'
import { segments } from '#db/segments'
import { ownTexts } from '#db/texts'

/** What seldom changes and every entry needs. */
export interface Ruleset extends Vocabulary {
  scorecard: Scorecard
  /** The number of its edition; 0 before there is one. */
  card: number
  plan: RoutingPlan
  members: Map<string, Member & Colleague & { telling: Telling | null }>
  /** What members are told at once, whatever they wish. */
  insists: ReadonlySet<string>
  /** What members are told, in the house's own words. */
  noticeTexts: NoticeTexts
  labelOrder: string[]
  firstStatus: string
  /** The status of who is worked on again. */
  wakeStatus: string
  stages: ReadonlyMap<string, Stage>
  /** What each label promises, in working minutes. */
  targets: ReadonlyMap<string, number>
  reading: Reading
  /** The rules by which live points know people beside their address. */
  rules: string[]
  lists: List[]
  /** What visitors read in the house's own words. */
  texts: OwnTexts
  segments: Map<string, Condition>
  segmentNames: { id: string; name: string }[]
  /** The segments that the scorecard asks for. */
  cardSegments: string[]
  /** What scoring and routing ask for beside the lead: what they did, lists, sources. */
  needs: Needs
}

const NO_SCORECARD: Scorecard = { version: 1, halfLifeDays: 14, fit: [], interest: [], labels: [] }

/** A scorecard as it is applied: conditions with their segments written out. */
export function asApplied(card: Scorecard, segments: Map<string, Condition>): Scorecard {
  const whole = (when: Condition) => expanded(when, segments)
  // A scorecard that asked for what it makes would never come to an end: such a rule is nobody's. Where segments are changed, that is refused.
  const ofScore = (when: Condition): Condition => (asksForScore(when) ? { any: [] } : when)
  return {
    ...card,
    fit: card.fit.map(rule => ({ ...rule, when: ofScore(whole(rule.when)) })),
    interest: card.interest.map(rule => ({ ...rule, when: rule.when && whole(rule.when) })),
  }
}

/** Absences that are over count where the past is worked through: an archive, a dry run. */
const KEEP_ABSENCES_MS = 200 * 86_400_000

/** Somebody as routing sees them: what is not set for them is as in the firm, whose holidays are theirs. */
function colleagueOf(
  { week, zone, mostOpen, languages, ...member }: Member & Availability & { telling: Telling | null },
  house: House,
  absences: AbsenceRow[],
): Member & Colleague & { telling: Telling | null } {
  const own = absences.filter(a => a.memberId === member.id)
  const hours =
    week === null && zone === null ? house.hours : { zone: zone ?? house.zone, week: week ?? house.hours.week, off: house.hours.off }
  return {
    ...member,
    telling: member.telling && complete(Telling, member.telling),
    hours,
    mostOpen,
    languages,
    absences: own.map(a => ({ from: a.fromAt.getTime(), until: a.untilAt.getTime(), standIn: a.standIn })),
  }
}

/** Reads the ruleset anew. */
export async function readRuleset(db: Db): Promise<Ruleset> {
  const [words, members, absences, scorecard, plan, rules, groups, segmentRows, texts, { insists, noticeTexts }] = await Promise.all([
    vocabulary(db),
    availabilities(db),
    absencesFrom(db, new Date(Date.now() - KEEP_ABSENCES_MS)),
    liveScorecard(db),
    livePlan(db),
    rulesInUse(db),
    lists(db),
    segments(db),
    ownTexts(db),
    tellingOfHouse(db),
  ])
  useOwnTexts(texts)
  const described = new Map(segmentRows.map(s => [s.id, s.condition]))
  const whole = (when: Condition) => expanded(when, described)
  const card = scorecard?.definition ?? NO_SCORECARD
  const applied = asApplied(card, described)
  const lanes = (plan?.definition.lanes ?? []).map(lane => ({ ...lane, when: lane.when && whole(lane.when) }))
  return {
    ...words,
    scorecard: applied,
    card: scorecard?.number ?? 0,
    plan: { ...(plan?.definition ?? NO_PLAN), lanes },
    segments: described,
    segmentNames: segmentRows.map(({ id, name }) => ({ id, name })),
    cardSegments: card.fit.flatMap(rule => segmentsIn(rule.when)),
    needs: needsOf([...applied.fit.map(rule => rule.when), ...lanes.flatMap(lane => lane.when ?? [])]),
    members: new Map(members.map(m => [m.id, colleagueOf(m, words.house, absences)])),
    insists: new Set(insists),
    noticeTexts,
    rules,
    lists: groups,
    texts,
    labelOrder: words.labels.map(l => l.key),
    reading: { country: words.house.country, cents: centsOf(words.house.currency), say: sayIn('en') },
    targets: new Map(words.labels.map(l => [l.key, l.responseTarget])),
    stages: new Map([...words.statuses, ...(words.joinedStatuses ?? [])].map(s => [s.key, s.stage])),
    wakeStatus: words.statuses.find(s => s.stage === 'open')?.key ?? words.statuses.find(s => s.stage === 'first')?.key ?? '',
    firstStatus: words.statuses.find(s => s.stage === 'first')?.key ?? '',
  }
}

/** Digits behind the point of a currency: 2 for most, none for some (ISO 4217). */
const centsOf = (currency: string) =>
  new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2

/** Should a word of a change get lost, nothing stays stale for longer than this. */
const KEPT_MS = 5_000

function kept<T>(read: () => Promise<T>) {
  let value: Promise<T> | null = null
  let known: T | undefined
  let until = 0
  return {
    get(): Promise<T> {
      if (!value || Date.now() > until) {
        until = Date.now() + KEPT_MS
        const fresh = read()
        fresh.then(
          read => {
            known = read
          },
          () => {
            if (value === fresh) value = null
          },
        )
        value = fresh
      }
      return value
    },
    /** What was read last; undefined before anything was. */
    known: () => known,
    forget() {
      value = null
    },
  }
}

/** What the ruleset is made of; of points it holds by which rules they know people. */
const IN_RULESET: Topics = {
  points: true,
  lists: true,
  segments: true,
  properties: true,
  scorecard: true,
  plan: true,
  colleagues: true,
  site: true,
}

/** Keeps the ruleset and the live points in memory. */
export function rulesetCache(db: Db) {
  const ruleset = kept(() => readRuleset(db))
  const points = new Map<string, ReturnType<typeof kept<Point | undefined>>>()
  const editions = new Map<string, Edition>()
  return {
    ruleset: ruleset.get,
    /** The edition of a point with this number; null when there is none. */
    async edition(point: Point, number: number): Promise<Edition | null> {
      if (number === point.live?.number) return point.live
      const key = `${point.id} ${number}`
      if (editions.size > 1_000) editions.clear()
      const edition = editions.get(key) ?? (await editionOf(db, point.id, number))
      if (edition) editions.set(key, edition)
      return edition ?? null
    },
    point(key: string): Promise<Point | undefined> {
      // Unknown keys are asked for by strangers: they must not fill the memory.
      if (points.size > 5_000) points.clear()
      let entry = points.get(key)
      if (!entry) points.set(key, (entry = kept(() => pointByKey(db, key))))
      return entry.get()
    },
    /** Takes what follows from what changed as not known. */
    forget(change: Topics) {
      if (concerns(IN_RULESET, change)) ruleset.forget()
      if (change.styles || change.points === true) points.clear()
      for (const [key, point] of change.points ? points : [])
        if (!point.known() || (change.points as string[]).includes(point.known()!.id)) points.delete(key)
      // They never change, but the house style that one follows may.
      if (change.styles) editions.clear()
    },
  }
}
