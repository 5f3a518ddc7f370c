import { defineEventHandler } from 'h3'
import { propertyUse } from '#db/properties'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** How each property is used. What they are comes with the house's words. */
export default defineEventHandler(async event => {
  await memberOf(event)
  return propertyUse(database())
})
