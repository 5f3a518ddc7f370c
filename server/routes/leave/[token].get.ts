import { defineEventHandler } from 'h3'
import { mailById } from '#db/mails'
import { database } from '#server/database'
import { askPage, saidPage, strangePage } from '#server/hosted/mail-pages'
import { idOfToken } from '#server/signed-addresses'
import { limit } from '#server/limits'
import { sayIn } from '#core/languages/say'

export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const id = idOfToken('leave', event.context.params?.token ?? '')
  const mail = id && (await mailById(database(), id))
  if (!mail) return strangePage(event, 'leave')
  const { language, recipient: address } = mail
  const say = sayIn(language)
  if (mail.unsubscribedAt && mail.own) return saidPage(event, language, say('leftTitle'), say('left', { address }))
  return askPage(event, language, say('leaveTitle'), say('leave', { address }), say('leaveYes'))
})
