import { defineEventHandler } from 'h3'
import { houseStyles } from '#db/styles'
import { database } from '#server/database'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => {
  await memberOf(event)
  return houseStyles(database())
})
