import { createHash } from 'node:crypto'
import { defineEventHandler } from 'h3'
import { setCalendarKey } from '#db/calendar'
import { applicationContext } from '#server/application-context'
import { newKey } from '#server/ids'
import { memberOf } from '#server/session'
import { ownAddress } from '#server/settings'

/** A new secret address for one's own calendar; the one before leads nowhere from then on. It is shown this once. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const key = newKey('cal', 24)
  await setCalendarKey(applicationContext().sql, member.id, createHash('sha256').update(key).digest('hex'))
  return { address: `${ownAddress()}/calendar/${key}.ics` }
})
