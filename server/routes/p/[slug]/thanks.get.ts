import { defineEventHandler, getQuery } from 'h3'
import { waysAfter } from '#server/capture/next'
import { atAddress, pointOf } from '#server/hosted/at'
import { hostedNothing, hostedPageThanks, hostedThanks } from '#server/hosted/pages'
import { limit } from '#server/limits'
import { inTongueOf, tongueFor } from '#server/words'

/** What stands there after an entry. `?e=` names the entry, signed, where something more can be done with it. */
export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const at = await atAddress(event, '/thanks')
  if ('answer' in at) return at.answer
  const plain = at.point.kind === 'page' ? await pointOf(at.point) : at.point
  const form = plain?.live ? inTongueOf(plain, tongueFor(event, plain.live.definition)) : plain
  const ways = form?.live ? waysAfter(form, getQuery(event).e) : []
  if (at.point.kind === 'page') return hostedPageThanks(event, at.point, ways)
  return form ? hostedThanks(event, form, ways) : hostedNothing(event)
})
