import { defineEventHandler, setResponseHeader } from 'h3'
import { leadsOfVisitors } from '#db/trail'
import { audienceToken } from '#server/appearing/site-word'
import { theOffice } from '#server/capture/office'
import { database } from '#server/database'
import { limit } from '#server/limits'
import { theTrailDesk } from '#server/trail/desk'
import { idFrom } from '#server/wire'

/** What only we can say of the person behind a browser, for the points that ask. Only the browser itself knows its id. */
export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const visitor = idFrom(event)
  setResponseHeader(event, 'cache-control', 'no-store')
  const lead = (await leadsOfVisitors(database(), [visitor])).get(visitor) ?? null
  return { token: await audienceToken(database(), await theTrailDesk().appearing(), (await theOffice().cache.standing()).segments, visitor, lead, Date.now()) }
})
