import { IsBoolean } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { archivePoint } from '#db/points'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Archived {
  @IsBoolean() archived!: boolean
}

export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const { archived } = await readChecked(event, Archived)
  const { sql } = applicationContext()
  if (!(await archivePoint(sql, idFrom(event), archived))) throw problem(404, 'There is no such form.')
  await changed({ points: [idFrom(event)] })
  return sendNoContent(event)
})
