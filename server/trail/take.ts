import 'reflect-metadata'
import { IsArray, IsNumber, IsObject, IsOptional, IsString, IsUUID, IsUrl, MaxLength, ArrayMaxSize } from 'class-validator'
import type { Activity } from '#core/scoring/score'
import type { TrailEvent } from '#core/trail/events'
import type { Tx } from '#db/client'
import { dropUnsubmitted } from '#db/unfinished'
import { sawVariants, type VariantSight } from '#db/variants'
import { forgetVisitor, joinAgain, keepEvents, leadsOfVisitors, activitiesOfLead, partVisitor, type TrailBatch } from '#db/trail'
import { trailActivity } from '#server/trail/activities'
import { dayIn, newLooks, type NamedPoint, type ToldLook } from '#server/trail/looks'
import { changeLeads } from '#server/ingest/change'
import type { Ruleset } from '#server/ruleset'
import { ListOf } from '#core/validate'

/** What was done one behind the other in a visit. It is taken once, however often it comes. */
class BatchBody {
  @IsUUID() id!: string
  @IsUUID() visit!: string
  @IsOptional() @IsString() @MaxLength(4000) referrer?: string | null
  @IsOptional() @IsObject() utm?: Record<string, unknown> | null
  /** Read apart; see `core/trail/events`. */
  @IsArray() events!: unknown[]
}
/** What a browser sends of its visits, after its person has agreed. */
export class TrailBody {
  @IsUUID() visitor!: string
  @IsUrl({ require_tld: false, require_protocol: true, protocols: ['http', 'https'] }) @MaxLength(300) site!: string
  /** The browser's clock, in milliseconds since 1970. */
  @IsNumber() sent!: number
  @IsOptional() @IsString() @MaxLength(40) language?: string | null
  @ArrayMaxSize(10) @ListOf(() => BatchBody) batches!: BatchBody[]
}

/**
 * Takes in what browsers did: keeps it once, counts what was seen and begun, and lets known people's interest grow at once.
 * Machines are kept apart and move nothing.
 * @param points that events and looks name, by their keys
 * @param told looks at pages of ours, by whom is not known
 * @returns the leads whose screens change
 */
export async function takeTrail(
  tx: Tx,
  ruleset: Ruleset,
  batches: TrailBatch[],
  points: Map<string, NamedPoint>,
  at: Date,
  told: ToldLook[] = [],
): Promise<string[]> {
  // Whose the browsers are is asked in the same breath.
  const [fresh, whose] = await Promise.all([
    keepEvents(tx, batches, at),
    leadsOfVisitors(tx, [...new Set(batches.map(b => b.visit.visitor))]),
  ])
  const news = batches.filter((b, i) => fresh.has(b.id) && !b.visit.robot && batches.findIndex(o => o.id === b.id) === i)
  if (!news.length && !told.length) return []
  await countLooks(tx, news, told, points, dayIn(ruleset.house.zone, at))
  const touched = new Set<string>()
  const activities = new Map<string, Activity[]>()
  for (const batch of news) {
    const lead = whose.get(batch.visit.visitor)
    if (!lead) continue
    touched.add(lead)
    for (const e of batch.events)
      if (e.kind === 'page' || e.kind === 'event')
        activities.set(lead, [...(activities.get(lead) ?? []), trailActivity({ ...e, at: new Date(e.at) })])
  }
  await changeLeads(
    tx,
    ruleset,
    [...activities].map(([lead, done]) => ({ kind: 'activities', at: at.getTime(), by: null, lead, activities: done })),
  )
  return [...touched]
}

/** How often points were seen and begun, on which page and day, and how far people came; and which variant each visitor saw. */
async function countLooks(tx: Tx, batches: TrailBatch[], told: ToldLook[], points: Map<string, NamedPoint>, day: string): Promise<void> {
  const looks = newLooks(day)
  const sights: VariantSight[] = []
  for (const { visit, events } of batches) {
    for (const { kind, path, data, at: then } of events) {
      const point = points.get(data?.point ?? '')
      if (!point) continue
      if (kind === 'seen' && point.experiment !== null && data!.experiment === point.experiment && point.variants.includes(data!.variant!))
        sights.push({
          point: point.id,
          experiment: point.experiment,
          variant: data!.variant!,
          visitor: visit.visitor,
          at: new Date(then).toISOString(),
        })
      looks.add(point, { kind, page: visit.site + path, ...data })
    }
  }
  for (const { point: key, look } of told) {
    const point = points.get(key)
    if (point) looks.add(point, look)
  }
  await looks.keep(tx)
  if (sights.length) await sawVariants(tx, sights)
}

/** What leads' interest is, worked out anew from what is still known that they read; entries stay. */
async function scoreAgain(tx: Tx, ruleset: Ruleset, leads: string[], at: number): Promise<void> {
  const causes = await Promise.all(
    leads.map(async lead => ({
      kind: 'browser' as const,
      at,
      by: null,
      lead,
      activities: (await activitiesOfLead(tx, lead)).map(trailActivity),
    })),
  )
  await changeLeads(tx, ruleset, causes)
}

/** Erases what a browser did, as its person asked. @returns the leads it was joined to */
export async function eraseVisitor(tx: Tx, ruleset: Ruleset, visitor: string, at: number): Promise<string[]> {
  const all = await forgetVisitor(tx, visitor)
  // Of who never sent anything nothing is left to know.
  const gone = await dropUnsubmitted(tx, all)
  const leads = all.filter(id => !gone.includes(id))
  await scoreAgain(tx, ruleset, leads, at)
  return all
}

/** Takes a browser from a lead again: it was somebody else's. @returns whether it was theirs */
export async function part(tx: Tx, ruleset: Ruleset, lead: string, visitor: string, at: Date): Promise<boolean> {
  if (!(await partVisitor(tx, lead, visitor, at))) return false
  await scoreAgain(tx, ruleset, [lead], at.getTime())
  return true
}

/** Gives a browser back to a lead that it was taken from. @returns false when it is somebody else's by now */
export async function rejoin(tx: Tx, ruleset: Ruleset, lead: string, visitor: string, at: Date): Promise<boolean> {
  if (!(await joinAgain(tx, lead, visitor))) return false
  await scoreAgain(tx, ruleset, [lead], at.getTime())
  return true
}

/** Kinds of events that are counted for a point. */
const LOOKS = new Set<TrailEvent['kind']>(['seen', 'started', 'question', 'left'])
/** Points that events name. */
export const pointsNamed = (events: TrailEvent[]): string[] => [
  ...new Set(events.flatMap(e => (LOOKS.has(e.kind) ? (e.data?.point ?? []) : []))),
]
