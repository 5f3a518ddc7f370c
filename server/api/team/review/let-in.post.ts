import { defineEventHandler } from 'h3'
import { letIn } from '#db/review'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { UNDO_MS } from '#server/review/let-in'
import { SomeEntries } from '#server/review/shapes'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

/** Lets entries in, a moment later, until when it can be taken back. What somebody else has dealt with is passed over. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'judge entries')
  const { entries } = await readChecked(event, SomeEntries)
  const at = new Date()
  const until = new Date(at.getTime() + UNDO_MS)
  const done = await letIn(database(), entries, member.id, at, until)
  await say(database(), { review: true })
  return { entries: done, until: until.toISOString() }
})
