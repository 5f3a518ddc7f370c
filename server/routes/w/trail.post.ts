import bowser from 'bowser'
import { defineEventHandler, sendNoContent } from 'h3'
import { isbot } from 'isbot'
import { readEvents } from '#core/trail/events'
import { sourceOf } from '#core/trail/visits'
import { check } from '#core/validate'
import type { TrailBatch, Visit } from '#db/trail'
import { readUtm } from '#server/capture/receive'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { browserId } from '#server/trail/browser'
import { trailContext } from '#server/trail/context'
import { placeOf } from '#server/trail/place'
import { pointsNamed, TrailBody } from '#server/trail/take'
import { header, parseJson, readText, sender } from '#server/wire'

const DEVICES: Record<string, Visit['device']> = { desktop: 'computer', mobile: 'phone', tablet: 'tablet' }

/** Browsers of one make say the same of themselves; what that means is looked up once. */
const agents = new Map<string, Pick<Visit, 'device' | 'robot'>>()
function agentOf(agent: string): Pick<Visit, 'device' | 'robot'> {
  const known = agents.get(agent)
  if (known) return known
  if (agents.size > 2_000) agents.clear()
  const found = { device: (agent && DEVICES[bowser.getParser(agent).getPlatformType(true)]) || 'other' as const, robot: !agent || isbot(agent) }
  agents.set(agent, found)
  return found
}

/** A body and its many events apart: those are read by themselves, and one that does not fit costs only itself. */
function apart(body: unknown): { plain: unknown; events: unknown[] } {
  const batches = (body as { batches?: unknown } | null)?.batches
  if (!Array.isArray(batches)) return { plain: body, events: [] }
  return { plain: { ...body as object, batches: batches.map(b => b && typeof b === 'object' && Array.isArray(b.events) ? { ...b, events: [] } : b) }, events: batches.map(b => (b as { events?: unknown } | null)?.events) }
}

/** What a visitor did. Sent as plain text, so that browsers need not ask first. 204 means that it is on disk. */
export default defineEventHandler(async (event) => {
  await limit(event, 'views')
  const { plain, events } = apart(parseJson(await readText(event)))
  const { value, flaws } = check(TrailBody, plain)
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  const { origins } = await trailContext().settings()
  const from = header(event, 'origin')
  if (origins.length && from && !origins.includes(from)) throw problem(403, 'This site is not among those whose visitors are followed. Whoever looks after Cavlin can add it under Settings, The site.')
  const now = Date.now()
  const browser = {
    visitor: browserId(value.visitor), site: new URL(value.site).origin, language: /^[a-zA-Z]{2,3}(-[a-zA-Z0-9]{2,8})*$/.test(value.language ?? '') ? value.language! : null,
    place: placeOf(sender(event)), ...agentOf(header(event, 'user-agent') ?? ''),
  }
  const batches = value.batches.map(({ id, visit, referrer, utm: raw }, i): TrailBatch => {
    const { utm } = readUtm(raw ?? {})
    const from = referrer?.split(/[?#]/)[0]!.slice(0, 2000) || null
    return { id, visit: { id: visit, ...browser, referrer: from, utm, source: sourceOf(from, utm) }, events: readEvents(events[i], value.sent, now) }
  }).filter(b => b.events.length)
  if (batches.length) await trailContext().take({ batches, points: pointsNamed(batches.flatMap(b => b.events)) })
  return sendNoContent(event)
})
