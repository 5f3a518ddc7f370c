import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsOptional, IsUUID } from 'class-validator'
import { randomUUID } from 'node:crypto'
import { defineEventHandler, setResponseStatus } from 'h3'
import { Nested } from '#core/validate'
import { addBulk, bulkById } from '#db/bulk'
import { idsWithin } from '#db/lead-list'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { actOfBulk, BulkAct, BULK_MOST } from '#server/follow-up/bulk'
import { causeOf } from '#server/follow-up/acts'
import { readTeamFilter } from '#server/follow-up/listing'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { MOST_DEFINITION_BYTES, readChecked } from '#server/wire'

class BulkBody {
  @Nested(() => BulkAct) act!: BulkAct
  /** These; without, all that the filters of the query fit. */
  @IsOptional() @IsArray() @ArrayMinSize(1) @ArrayMaxSize(BULK_MOST) @ArrayUnique() @IsUUID('all', { each: true }) leads?: string[]
}

/** Does something to many leads, in the background; 202 with its id. It can be watched, stopped and taken back. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const { act, leads } = await readChecked(event, BulkBody, MOST_DEFINITION_BYTES)
  // Refused as a whole before anything is done.
  causeOf(ruleset, actOfBulk(act), new Date())
  const { filter, impossible } = readTeamFilter(event, [], ruleset)
  const ids = leads ?? (impossible ? [] : await idsWithin(longReadings(), filter, BULK_MOST + 1))
  if (!ids.length) throw problem(422, 'Nobody fits these filters, so there is nobody to do it to.')
  if (ids.length > BULK_MOST) throw problem(422, `At most ${BULK_MOST.toLocaleString('en')} leads at once. Narrow the filters down.`)
  const id = randomUUID()
  await sql.begin(tx => addBulk(tx, { id, by: member.id, act, leads: ids }))
  await say(sql, { jobs: true })
  setResponseStatus(event, 202)
  return await bulkById(sql, id)
})
