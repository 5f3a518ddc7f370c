import { createHmac } from 'node:crypto'
import { DateTime } from 'luxon'
import { masked, type PublicAppearance } from '#core/appearing/definition'
import { holds, type Facts } from '#core/conditions'
import { factsOf } from '#core/leads'
import { answeredBy, type PlacedRow } from '#db/appearing'
import { leadState } from '#db/capture'
import type { Db } from '#db/client'
import { listsOf } from '#db/lists'
import { setting } from '#server/database'

/** An appearance as the visitors' script gets it: nothing in it that we know of people. */
export function publicAppearance({ key, edition, definition }: PlacedRow): PublicAppearance {
  const { on: _, ...appears } = definition.appears
  const { audience, ours } = masked(appears.audience)
  return { key, edition, title: definition.title, ...appears, audience, nobody: ours.map(test => holds(test, nobody)) }
}

/** Somebody whom we do not know. */
const nobody: Facts = name => name === 'visitor.known' || name === 'answered' ? 'no' : undefined

/** Minutes by which a zone's clock is ahead of UTC at a moment. */
export const shiftOf = (zone: string, now: Date): number => DateTime.fromJSDate(now, { zone }).offset

const HOLDS_MS = 10 * 60_000
const signature = (payload: string) => createHmac('sha256', setting('CAVLIN_SESSION')).update(`audience ${payload}`).digest('base64url')

/**
 * What we say of a person to their own browser: for each point, which of the tests that only we can judge hold. Signed and
 * short-lived; without it nothing can be learnt about anybody.
 */
export async function audienceToken(db: Db, points: PlacedRow[], lead: string | null, now: number): Promise<string> {
  const [state, lists, answered] = lead ? await Promise.all([leadState(db, lead), listsOf(db, lead), answeredBy(db, lead)]) : [undefined, [], new Set<string>()]
  const own = state && factsOf(state)
  const said = Object.fromEntries(points.flatMap((p) => {
    const { ours } = masked(p.definition.appears.audience)
    const facts: Facts = !own ? nobody : name => name === 'visitor.known' ? 'yes' : name === 'answered' ? (answered.has(p.key) ? 'yes' : 'no') : name === 'list' ? lists : own(name)
    return ours.length ? [[p.key, ours.map(test => holds(test, facts))]] : []
  }))
  const payload = Buffer.from(JSON.stringify({ said, until: now + HOLDS_MS })).toString('base64url')
  return `${payload}.${signature(payload)}`
}
