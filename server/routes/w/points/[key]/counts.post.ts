import { IsIn, IsInt, IsUrl, Max, MaxLength, Min } from 'class-validator'
import { defineEventHandler, getRequestHeader, sendNoContent } from 'h3'
import { isbot } from 'isbot'
import { check } from '#core/validate'
import { addCount } from '#db/places'
import { livePoint } from '#server/capture/the-point'
import { database } from '#server/database'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { parseJson, readText } from '#server/wire'

class CountBody {
  @IsIn(['seen', 'started']) what!: 'seen' | 'started'
  @IsUrl({ require_tld: false, require_protocol: true, protocols: ['http', 'https'] }) @MaxLength(2000) page!: string
  @IsInt() @Min(1) @Max(1_000_000) edition!: number
}

/** Counts that a point was seen or begun on a page. Sent as plain text, so that browsers need not ask first. */
export default defineEventHandler(async (event) => {
  await limit(event, 'views')
  const point = await livePoint(event)
  const { value, flaws } = check(CountBody, parseJson(await readText(event, 4096)))
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  if (isbot(getRequestHeader(event, 'user-agent'))) return sendNoContent(event)
  const url = new URL(value.page)
  await addCount(database(), {
    point: point.id, edition: Math.min(value.edition, point.live.number), page: url.origin + url.pathname, day: new Date().toISOString().slice(0, 10),
    seen: value.what === 'seen' ? 1 : 0, started: value.what === 'started' ? 1 : 0,
  })
  return sendNoContent(event)
})
