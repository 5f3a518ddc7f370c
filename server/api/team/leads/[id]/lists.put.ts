import { ArrayMaxSize, ArrayUnique, IsArray, IsUUID } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { leadById } from '#db/leads'
import { setLists } from '#db/lists'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class OnLists {
  @IsArray() @ArrayMaxSize(200) @IsUUID(undefined, { each: true }) @ArrayUnique() lists!: string[]
}

/** Puts a lead on exactly these lists, by hand. */
export default defineEventHandler(async (event) => {
  await memberOf(event, 'work leads')
  const { lists } = await readChecked(event, OnLists)
  const { sql } = applicationContext()
  const lead = idFrom(event)
  if (!await leadById(sql, lead)) throw problem(404, 'There is no such lead.')
  await sql.begin(tx => setLists(tx, lead, lists, new Date()))
  await say(sql, { leads: [lead] })
  return sendNoContent(event)
})
