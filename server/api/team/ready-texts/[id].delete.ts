import { defineEventHandler } from 'h3'
import { dropReadyText } from '#db/ready-texts'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

export default defineEventHandler(async event => {
  await memberOf(event, 'work leads')
  if (!(await dropReadyText(database(), idFrom(event)))) throw problem(404, 'There is no such text any more.')
  return { ok: true }
})
