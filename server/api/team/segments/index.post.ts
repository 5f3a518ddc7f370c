import { defineEventHandler, setResponseStatus } from 'h3'
import { saveSegment } from '#db/segments'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { nameTaken, readSegment } from '#server/segments/read'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => {
  await memberOf(event, 'edit segments')
  const { sql, cache } = applicationContext()
  const segment = await readSegment(event, newId(), await cache.ruleset())
  if (!(await saveSegment(sql, segment, new Date()))) throw nameTaken()
  await changed({ segments: true })
  setResponseStatus(event, 201)
  return { id: segment.id }
})
