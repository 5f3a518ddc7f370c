import { IsISO8601, IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { addHoliday, holidaysOf } from '#db/house'
import { database } from '#server/database'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

const MOST = 500
class Holiday {
  @Matches(/^\d{4}-\d\d-\d\d$/) @IsISO8601({ strict: true }) from!: string
  @Matches(/^\d{4}-\d\d-\d\d$/) @IsISO8601({ strict: true }) until!: string
  @IsString() @MaxLength(80) @Matches(/\S/, { message: 'Give it a name.' }) name!: string
}

/** Days on which nobody of the firm works, the last one included. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  const { from, until, name } = await readChecked(event, Holiday)
  const flaw = (message: string) => problem(422, message, [{ field: 'until', message }])
  if (until < from) throw flaw('This ends before it begins.')
  if (Date.parse(until) - Date.parse(from) > 60 * 86_400_000) throw flaw('At most 60 days at once.')
  const there = await holidaysOf(database())
  if (there.length >= MOST) throw problem(409, `At most ${MOST} are kept. Take away those that are over.`)
  if (there.some(h => h.from === from && h.until === until)) throw problem(409, 'These days are there already.')
  const id = newId()
  await addHoliday(database(), { id, from, until, name: name.trim() })
  await changed({ site: true, colleagues: true })
  setResponseStatus(event, 201)
  return { id }
})
