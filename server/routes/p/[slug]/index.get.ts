import { defineEventHandler } from 'h3'
import { atAddress, shownAt } from '#server/hosted/at'
import { limit } from '#server/limits'

export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const at = await atAddress(event)
  return 'answer' in at ? at.answer : shownAt(event, at.point)
})
