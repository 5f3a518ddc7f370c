import { defineEventHandler } from 'h3'
import { takeBack } from '#db/review'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { SomeEntries } from '#server/review/shapes'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

/** Takes back that entries were let in, as long as they are not in, or refused by one of us: they wait again. */
export default defineEventHandler(async event => {
  await memberOf(event, 'judge entries')
  const { entries } = await readChecked(event, SomeEntries)
  const done = await takeBack(database(), entries)
  await say(database(), { review: true })
  return { entries: done }
})
