import { defineEventHandler, sendNoContent } from 'h3'
import { signOut } from '#server/session'

export default defineEventHandler(async event => {
  await signOut(event)
  return sendNoContent(event)
})
