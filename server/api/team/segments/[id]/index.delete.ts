import { defineEventHandler, sendNoContent } from 'h3'
import { removeSegment } from '#db/segments'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { usesOfSegments } from '#server/segments/uses'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Takes a segment away that nothing asks for. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit segments')
  const { sql } = applicationContext()
  const id = idFrom(event)
  const uses = (await usesOfSegments(sql)).get(id)
  if (uses?.length) throw problem(409, `It is still asked for by ${uses.join(', ')}. Change that first.`)
  if (!(await removeSegment(sql, id, new Date()))) throw problem(404, 'There is no such segment.')
  await changed({ segments: true })
  return sendNoContent(event)
})
