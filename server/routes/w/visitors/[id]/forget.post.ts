import { defineEventHandler, sendNoContent } from 'h3'
import { forgetVisitor } from '#db/trail'
import { database } from '#server/database'
import { limit } from '#server/limits'
import { idFrom } from '#server/wire'

export default defineEventHandler(async (event) => {
  await limit(event, 'views')
  await forgetVisitor(database(), idFrom(event))
  return sendNoContent(event)
})
