import { defineEventHandler, getQuery, type H3Event } from 'h3'
import { inTongue } from '#core/points/translations'
import { entryById } from '#db/entries'
import { namelessById } from '#db/nameless'
import { editionOf, type Point } from '#db/points'
import { resultOf, waysAfter } from '#server/capture/next'
import { atAddress, pointOf } from '#server/hosted/at'
import { hostedNothing, hostedPageThanks, hostedResult, hostedThanks } from '#server/hosted/pages'
import { database } from '#server/database'
import { limit } from '#server/limits'
import { idOfToken } from '#server/signed-addresses'
import { inTongueOf, tongueFor } from '#server/words'

/** What stands there after an entry. `?e=` names the entry, signed, where something more can be done with it. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const at = await atAddress(event, '/thanks')
  if ('answer' in at) return at.answer
  const plain = at.point.kind === 'page' ? await pointOf(at.point) : at.point
  const form = plain?.live ? inTongueOf(plain, tongueFor(event, plain.live.definition)) : plain
  const ways = form?.live ? waysAfter(form, getQuery(event).e) : []
  const result = form?.live?.definition.quiz ? ((await resultPage(event, form)) ?? (await namelessPage(event, form))) : null
  if (result) return result
  if (at.point.kind === 'page') return hostedPageThanks(event, at.point, ways)
  return form ? hostedThanks(event, form, ways) : hostedNothing(event)
})

/** What a quiz came to, of the edition that was answered; null where the address names no entry of it. */
async function resultPage(event: H3Event, { id, slug }: Point): Promise<string | null> {
  const token = getQuery(event).e
  const entry = typeof token === 'string' ? await entryById(database(), idOfToken('result', token) ?? NOBODY) : undefined
  const edition = entry?.pointId === id && entry.result ? await editionOf(database(), id, entry.edition) : undefined
  if (!entry?.result || !edition) return null
  const definition = inTongue(edition.definition, entry.language ?? edition.definition.language)
  return hostedResult(event, definition, resultOf(definition, { slug, point: slug }, entry.result, entry.answers, entry.id))
}

/** The same of somebody nameless: `?n=`. */
async function namelessPage(event: H3Event, { id, slug }: Point): Promise<string | null> {
  const token = getQuery(event).n
  const came = typeof token === 'string' ? await namelessById(database(), idOfToken('result', token) ?? NOBODY) : undefined
  const edition = came?.pointId === id ? await editionOf(database(), id, came.edition) : undefined
  if (!came || !edition) return null
  const definition = inTongue(edition.definition, came.language ?? edition.definition.language)
  return hostedResult(event, definition, resultOf(definition, { slug, point: slug }, came.result, came.answers))
}
const NOBODY = '00000000-0000-0000-0000-000000000000'
