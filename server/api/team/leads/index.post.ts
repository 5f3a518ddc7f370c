import { IsObject, IsOptional, IsString, IsUUID, MaxLength, ValidateIf } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { parseEmail } from '#core/identity/email'
import type { Flaw } from '#core/flaws'
import { may } from '#core/roles'
import type { PropertyValue } from '#core/properties/kinds'
import { leadById, leadIdByEmail } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { valueOf } from '#server/follow-up/acts'
import { leadView } from '#server/follow-up/view'
import { openBatch } from '#server/ingest/change'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class NewLead {
  @IsOptional() @IsString() @MaxLength(254) email?: string
  /** By the keys of properties. */
  @IsObject() values!: Record<string, string | string[]>
  /** A member, `plan`, or null: nobody. */
  @ValidateIf((b: NewLead) => b.owner !== null && b.owner !== 'plan') @IsUUID() owner!: string | null
  /** Where they met. */
  @IsOptional() @IsString() @MaxLength(300) from?: string
}

/** Somebody is written down by hand. Who is known already is not written down twice. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const body = await readChecked(event, NewLead)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const flaws: Flaw[] = []
  const address = body.email?.trim() ? parseEmail(body.email) : null
  if (body.email?.trim() && !address) flaws.push({ field: 'email', message: 'This is no e-mail address.' })
  const values: Record<string, PropertyValue> = {}
  for (const [key, typed] of Object.entries(body.values)) {
    try {
      if (typeof typed !== 'string' && !(Array.isArray(typed) && typed.every(t => typeof t === 'string')))
        throw new Error('This is no text.')
      const value = valueOf(ruleset, key, typed)
      if (value !== null) values[key] = value
    } catch (error) {
      flaws.push({ field: `values.${key.slice(0, 60)}`, message: (error as Error).message })
    }
  }
  if (!address && !values.phone && !flaws.length)
    flaws.push({ field: 'email', message: 'Give an e-mail address or a phone number: there has to be a way to reach them.' })
  if (body.owner !== null && body.owner !== 'plan') {
    const to = ruleset.members.get(body.owner)
    if (!to || !may(to.role, 'work leads'))
      flaws.push({ field: 'owner', message: 'Choose somebody who works with leads, the plan, or nobody.' })
  }
  if (flaws.length) throw problem(422, flaws.map(f => f.message).join(' '), flaws)
  const known = async () => address && (await leadIdByEmail(sql, address.key))
  const taken = (id: string) =>
    problem(409, 'Somebody with this address is a lead already.', [
      { field: 'email', message: `They are a lead already: /follow-up/leads/${id}` },
    ])
  const before = await known()
  if (before) throw taken(before)
  const at = Date.now()
  const owner = body.owner === null ? ('nobody' as const) : body.owner === 'plan' ? ('plan' as const) : { member: body.owner }
  try {
    const [step] = await sql.begin(async tx => {
      const batch = await openBatch(tx, ruleset, { ids: [], at })
      return batch.apply([
        {
          kind: 'made',
          at,
          by: member.id,
          address: address && { address: address.address, key: address.key },
          values,
          owner,
          from: body.from?.trim() ?? '',
        },
      ])
    })
    const row = (await leadById(sql, step!.lead.id))!
    await say(sql, { leads: [row.id], notices: step!.notices.map(n => n.to), jobs: true })
    setResponseStatus(event, 201)
    return leadView(row, ruleset, at)
  } catch (error) {
    // Somebody was quicker with the same address.
    const now = (error as { code?: string }).code === '23505' ? await known() : null
    throw now ? taken(now) : error
  }
})
