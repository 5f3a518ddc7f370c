import { defineEventHandler, setResponseHeaders } from 'h3'
import { pointFile } from '#core/points/point-file'
import { slugify } from '#core/text'
import { anyById } from '#db/points'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** A form, quiz or page as a file, to be brought in elsewhere or kept: its working copy. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const point = await anyById(database(), idFrom(event))
  if (!point) throw problem(404, 'There is no such form, quiz or page.')
  setResponseHeaders(event, {
    'content-type': 'application/json; charset=utf-8',
    'content-disposition': `attachment; filename="${slugify(point.name) || point.kind}.json"`,
    'cache-control': 'no-store',
  })
  return JSON.stringify(pointFile(point.kind, point.name, point.workingCopy), null, 2)
})
