import { defineEventHandler } from 'h3'
import { segments } from '#db/segments'
import { applicationContext } from '#server/application-context'
import { countsOf } from '#server/segments/counts'
import { usesOfSegments } from '#server/segments/uses'
import { longReadings } from '#server/database'
import { memberOf } from '#server/session'

/** All segments, with how many leads are in each now and what asks for them. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql } = applicationContext()
  const [all, uses] = await Promise.all([segments(sql), usesOfSegments(sql)])
  const counts = await countsOf(longReadings(), all)
  return all.map(s => ({ ...s, leads: counts.get(s.id) ?? 0, uses: uses.get(s.id) ?? [] }))
})
