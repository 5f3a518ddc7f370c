import { IsObject } from 'class-validator'
import { defineEventHandler } from 'h3'
import { nameOf } from '#core/leads/lead'
import { expanded } from '#core/segments/segment'
import { briefLeads } from '#db/leads'
import { whoIsIn } from '#db/segments'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { readTests } from '#server/segments/read'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Asked {
  @IsObject() condition!: object
}
const SHOWN = 6

/** How many leads a condition holds for, of how many, and some of them: counted while somebody builds it. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const condition = expanded(readTests((await readChecked(event, Asked)).condition, ruleset), ruleset.segments)
  const { leads, of, some } = await whoIsIn(longReadings(), condition, Date.now(), SHOWN)
  const people = new Map((await briefLeads(sql, some)).map(l => [l.id, l]))
  return {
    leads,
    of,
    some: some.flatMap(id => {
      const lead = people.get(id)
      return lead ? [{ id, name: nameOf(lead), company: lead.company, label: lead.label }] : []
    }),
  }
})
