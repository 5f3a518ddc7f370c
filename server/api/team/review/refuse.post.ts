import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { MOST_WHY } from '#core/review'
import { refuse } from '#db/review'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { SomeEntries } from '#server/review/shapes'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Refused extends SomeEntries {
  @IsString() @MaxLength(MOST_WHY) why!: string
}

/** Does not take held entries in; they are kept for a week, with the reason. What somebody else has dealt with is passed over. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'judge entries')
  const { entries, why } = await readChecked(event, Refused)
  if (!why.trim()) throw problem(422, 'Say why it is not taken in.', [{ field: 'why', message: 'Choose a reason, or write one.' }])
  const done = await refuse(database(), entries, member.id, why.trim(), new Date())
  await say(database(), { review: true })
  return { entries: done }
})
