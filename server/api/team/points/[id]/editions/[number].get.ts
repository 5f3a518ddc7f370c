import { defineEventHandler } from 'h3'
import { editionOf, pageEdition } from '#db/points'
import { anyPoint, isPage } from '#server/capture/editing'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

/** One edition, to look at or to go back to. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const number = Number(event.context.params?.number)
  const point = await anyPoint(event)
  const fits = Number.isInteger(number) && number > 0 && number < 2 ** 31
  const edition = fits ? await (isPage(point) ? pageEdition : editionOf)(database(), point.id, number) : undefined
  if (!edition) throw problem(404, 'There is no such edition.')
  return edition
})
