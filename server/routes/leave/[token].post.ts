import { defineEventHandler } from 'h3'
import { mailById } from '#db/mails'
import { applicationContext } from '#server/application-context'
import { unsubscribe } from '#server/claims/unsubscribe'
import { database } from '#server/database'
import { saidPage, strangePage } from '#server/hosted/mail-pages'
import { idOfToken } from '#server/signed-addresses'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { sayIn } from '#core/languages/say'

/** Also what mail programs post for one click (RFC 8058). */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const sql = database()
  const id = idOfToken('leave', event.context.params?.token ?? '')
  const mail = id && (await mailById(sql, id))
  if (!mail) return strangePage(event, 'leave')
  const ruleset = await applicationContext().cache.ruleset()
  await sql.begin(tx => unsubscribe(tx, ruleset, mail, Date.now()))
  await say(sql, { leads: [mail.leadId] })
  const words = sayIn(mail.language)
  return saidPage(event, mail.language, words('leftTitle'), words('left', { address: mail.recipient }))
})
