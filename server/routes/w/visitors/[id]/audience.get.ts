import { defineEventHandler, getQuery, setResponseHeader } from 'h3'
import { leadState } from '#db/book'
import { standingFor } from '#db/merges'
import { leadsOfVisitors, provenLead, proveVisitor } from '#db/trail'
import { audienceToken } from '#server/appearing/audience-token'
import { applicationContext } from '#server/application-context'
import { database } from '#server/database'
import { idOfToken } from '#server/signed-addresses'
import { limit } from '#server/limits'
import { trailContext } from '#server/trail/context'
import { browserFrom } from '#server/trail/browser'

/**
 * What only we can say of the person behind a browser, for the points that ask. Only the browser itself knows its id.
 * `?cavlin=` brings along the word of a mailed link that was opened in it: it shows that the browser is its reader's.
 */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const visitor = browserFrom(event)
  setResponseHeader(event, 'cache-control', 'no-store')
  const db = database()
  const word = getQuery(event).cavlin
  const named = typeof word === 'string' ? (idOfToken('again', word) ?? idOfToken('arrived', word)) : null
  const shown = named && (await standingFor(db, named))
  if (shown && (await leadsOfVisitors(db, [visitor])).get(visitor) === shown) await proveVisitor(db, shown, visitor, new Date())
  const lead = await provenLead(db, visitor)
  const known = lead === null ? undefined : await leadState(db, lead)
  // Only in a browser that is shown to be theirs is anybody called by name.
  const called = known?.guardedAt === null ? known.firstName : null
  return {
    token: await audienceToken(
      db,
      await trailContext().appearing(),
      (await applicationContext().cache.ruleset()).segments,
      visitor,
      lead,
      Date.now(),
    ),
    ...(called && { called }),
  }
})
