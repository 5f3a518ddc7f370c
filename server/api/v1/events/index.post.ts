import { defineEventHandler, sendNoContent } from 'h3'
import { v5 } from 'uuid'
import { parseEmail } from '#core/identity/email'
import { readProperties, TRAIL_LIMITS } from '#core/trail/events'
import { leadIdByEmail } from '#db/leads'
import { requireKey } from '#server/api-keys'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { browserId } from '#server/trail/browser'
import { joinTo } from '#server/trail/join'
import { AddedEvent } from '#server/trail/added-event'
import { takeTrail } from '#server/trail/take'
import { header, readChecked } from '#server/wire'
import { ownAddress } from '#server/settings'

/** Ids that are made from a name, so that the same name gives the same id (RFC 9562, version 5). */
const PROGRAM = '0193b7f0-1111-5000-8000-4cab11270000'
const DAY = 86_400_000

/** An event that a program knows of: a lead's, by their address, or a browser's, by its id. With an Idempotency-Key it counts once. */
export default defineEventHandler(async event => {
  await requireKey(event, 'events:write')
  const body = await readChecked(event, AddedEvent)
  if (Boolean(body.email) === Boolean(body.visitor))
    throw problem(422, 'Some fields are wrong; see the list.', [{ field: 'email', message: 'Say whose it is: an email, or a visitor.' }])
  const { sql, cache } = applicationContext()
  const now = Date.now()
  const at = body.at ? Date.parse(body.at) : now
  if (at > now + 60_000 || at < now - TRAIL_LIMITS.late)
    throw problem(422, 'Some fields are wrong; see the list.', [{ field: 'at', message: 'It must lie within the last seven days.' }])
  const lead = body.email ? await leadIdByEmail(sql, parseEmail(body.email)?.key ?? '') : null
  if (body.email && !lead) throw problem(404, 'There is no lead with this address.')
  const visitor = body.visitor ? browserId(body.visitor) : v5(`lead ${lead}`, PROGRAM)
  const key = header(event, 'idempotency-key')
  const url = new URL(body.page ?? (ownAddress() || 'http://localhost'))
  const visit = {
    id: v5(`${visitor} ${Math.floor(at / DAY)}`, PROGRAM),
    visitor,
    site: url.origin,
    referrer: null,
    utm: {},
    source: 'a program',
    language: null,
    device: 'other' as const,
    place: null,
    robot: false,
  }
  const events = [
    {
      kind: 'event' as const,
      at: Math.min(at, now),
      path: body.page ? url.pathname : '/',
      title: null,
      data: { name: body.name.trim(), properties: readProperties(body.properties) },
    },
  ]
  const ruleset = await cache.ruleset()
  const touched = await sql.begin(async tx => {
    if (lead) await joinTo(tx, visitor, lead, at)
    return await takeTrail(tx, ruleset, [{ id: key ? v5(`key ${key}`, PROGRAM) : newId(), visit, events }], new Map(), new Date(now))
  })
  await say(sql, { leads: touched, trail: true })
  return sendNoContent(event)
})
