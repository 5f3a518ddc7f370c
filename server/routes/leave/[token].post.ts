import { defineEventHandler } from 'h3'
import { letterById } from '#db/letters'
import { applicationContext } from '#server/application-context'
import { unsubscribe } from '#server/claims/unsubscribe'
import { database } from '#server/database'
import { saidPage, strangePage } from '#server/hosted/letter-pages'
import { letterOf } from '#server/letters'
import { limit } from '#server/limits'
import { say } from '#server/live/say'

/** Also what mail programs post for one click (RFC 8058). */
export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const sql = database()
  const id = letterOf('leave', event.context.params?.token ?? '')
  const letter = id && await letterById(sql, id)
  if (!letter) return strangePage(event, 'leave')
  const ruleset = await applicationContext().cache.ruleset()
  await sql.begin(tx => unsubscribe(tx, ruleset, letter, Date.now()))
  await say(sql, { leads: [letter.leadId] })
  return saidPage(event, 'You have left', `We send no more mails to ${letter.recipient}.`)
})
