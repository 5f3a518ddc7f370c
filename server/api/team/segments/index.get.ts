import { defineEventHandler } from 'h3'
import { writtenOut } from '#core/segments/segment'
import { countFor, segments } from '#db/segments'
import { theOffice } from '#server/capture/office'
import { usesOfSegments } from '#server/segments/uses'
import { memberOf } from '#server/session'

/** All segments, with how many leads are in each now and what asks for them. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { sql } = theOffice()
  const [all, uses] = await Promise.all([segments(sql), usesOfSegments(sql)])
  const described = new Map(all.map(s => [s.id, s.condition]))
  return await Promise.all(all.map(async s => ({ ...s, leads: await countFor(sql, writtenOut(s.condition, described), Date.now()), uses: uses.get(s.id) ?? [] })))
})
