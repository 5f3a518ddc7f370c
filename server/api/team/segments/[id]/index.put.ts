import { defineEventHandler, sendNoContent } from 'h3'
import { saveSegment } from '#db/segments'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { nameTaken, readSegment } from '#server/segments/read'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Changes a segment, or brings back one that was taken away. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit segments')
  const { sql, cache } = applicationContext()
  const id = idFrom(event)
  const segment = await readSegment(event, id, await cache.ruleset())
  const [there] = await sql`select 1 from segment where id = ${id}`
  if (!there) throw problem(404, 'There is no such segment.')
  if (!(await saveSegment(sql, segment, new Date()))) throw nameTaken()
  await changed({ segments: true })
  return sendNoContent(event)
})
