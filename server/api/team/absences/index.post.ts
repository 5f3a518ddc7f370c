import { IsISO8601, IsOptional, IsUUID, Matches } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { DateTime } from 'luxon'
import { may } from '#core/roles'
import { absencesFrom, addAbsence } from '#db/members'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { maySetAway } from '#server/routing/absences'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

const DAY = 86_400_000
const MOST_DAYS = 400
const DAY_MESSAGE = 'Choose a day that the calendar has.'
class Away {
  @IsUUID() member!: string
  /** The first and the last day, in the zone in which they work. */
  @Matches(/^\d{4}-\d\d-\d\d$/, { message: DAY_MESSAGE }) @IsISO8601({ strict: true }, { message: DAY_MESSAGE }) from!: string
  @Matches(/^\d{4}-\d\d-\d\d$/, { message: DAY_MESSAGE }) @IsISO8601({ strict: true }, { message: DAY_MESSAGE }) until!: string
  @IsOptional() @IsUUID() standIn?: string | null
}

/** Somebody is away for some days; who looks after what comes meanwhile. */
export default defineEventHandler(async event => {
  const by = await memberOf(event)
  const body = await readChecked(event, Away)
  maySetAway(by, body.member)
  const flaw = (field: string, message: string) => problem(422, message, [{ field, message }])
  const { sql, cache } = applicationContext()
  const { members } = await cache.ruleset()
  const who = members.get(body.member)
  if (!who) throw problem(404, 'There is no such colleague.')
  const midnight = (day: string) => DateTime.fromISO(day, { zone: who.hours.zone }).startOf('day')
  const [from, until] = [midnight(body.from).toJSDate(), midnight(body.until).plus({ days: 1 }).toJSDate()]
  if (body.until < body.from) throw flaw('until', 'This ends before it begins.')
  if (until.getTime() <= Date.now()) throw flaw('until', 'This is over already.')
  if (until.getTime() - from.getTime() > MOST_DAYS * DAY)
    throw flaw('until', `At most ${MOST_DAYS} days at once. Who leaves for good is taken out under Colleagues.`)
  const standIn = body.standIn ?? null
  const other = standIn === null ? undefined : members.get(standIn)
  if (standIn !== null && (!other || standIn === body.member || !may(other.role, 'work leads')))
    throw flaw('standIn', 'Choose another colleague who works with leads.')
  const id = newId()
  await sql.begin(async tx => {
    // Two who say it at once do not say it twice.
    await tx`select from member where id = ${body.member} for no key update`
    const same = (await absencesFrom(tx, from)).find(a => a.memberId === body.member && a.fromAt < until)
    if (same) throw problem(409, 'They are away then already. Take that away first, or choose other days.')
    await addAbsence(tx, { id, memberId: body.member, fromAt: from, untilAt: until, standIn })
  })
  await changed({ colleagues: true })
  setResponseStatus(event, 201)
  return { id }
})
