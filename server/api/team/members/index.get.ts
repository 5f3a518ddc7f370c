import { defineEventHandler } from 'h3'
import { allMembers } from '#db/members'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** Everybody who works here or did, with when they were last seen. */
export default defineEventHandler(async event => {
  await memberOf(event, 'manage members')
  return allMembers(database())
})
