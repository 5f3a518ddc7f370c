import { ArrayMaxSize, ArrayUnique, IsArray, IsUUID } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { applicationContext } from '#server/application-context'
import { carryOut } from '#server/follow-up/acts'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class OnLists {
  @IsArray() @ArrayMaxSize(200) @IsUUID(undefined, { each: true }) @ArrayUnique() lists!: string[]
}

/** Puts a lead on exactly these lists, by hand. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const { lists } = await readChecked(event, OnLists)
  const { sql, cache } = applicationContext()
  const lead = idFrom(event)
  const ruleset = await cache.ruleset()
  await sql.begin(tx => carryOut(tx, ruleset, lead, member.id, { do: 'lists', lists }, new Date()))
  await say(sql, { leads: [lead] })
  return sendNoContent(event)
})
