import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsBoolean, IsUUID } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { keepApart, notApart } from '#db/likeness'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class TwoPeople {
  @IsArray() @ArrayMinSize(2) @ArrayMaxSize(2) @IsUUID('all', { each: true }) @ArrayUnique() leads!: [string, string]
  @IsBoolean() apart!: boolean
}

/** Two leads are two people, and are not brought up again; or may be one after all. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'judge entries')
  const { leads, apart } = await readChecked(event, TwoPeople)
  const [one, other] = leads.map(id => id.toLowerCase()) as [string, string]
  const done = apart ? await keepApart(database(), one, other, member.id, new Date()) : await notApart(database(), one, other)
  if (!done) throw problem(409, apart ? 'One of the two is not there any more.' : 'Nobody has said that these are two.')
  await say(database(), { review: true })
  return sendNoContent(event)
})
