import { defineEventHandler } from 'h3'
import { activeKeys } from '#db/keys'
import { database } from '#server/database'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => {
  await memberOf(event, 'manage keys')
  return activeKeys(database())
})
