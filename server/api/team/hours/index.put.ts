import { defineEventHandler, sendNoContent } from 'h3'
import type { DaySpan } from '#core/working-time'
import { IsWeek } from '#core/working-week'
import { setHours } from '#db/house'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Hours {
  @IsWeek() week!: DaySpan[][]
}

/** When the firm works. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  const { week } = await readChecked(event, Hours)
  await setHours(database(), week)
  await changed({ site: true, colleagues: true })
  return sendNoContent(event)
})
