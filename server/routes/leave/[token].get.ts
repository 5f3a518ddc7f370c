import { defineEventHandler } from 'h3'
import { mailById } from '#db/mails'
import { database } from '#server/database'
import { askPage, saidPage, strangePage } from '#server/hosted/mail-pages'
import { idOfToken } from '#server/signed-addresses'
import { limit } from '#server/limits'

export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const id = idOfToken('leave', event.context.params?.token ?? '')
  const mail = id && await mailById(database(), id)
  if (!mail) return strangePage(event, 'leave')
  if (mail.unsubscribedAt && mail.own) return saidPage(event, 'You have left', `We send no more mails to ${mail.recipient}.`)
  return askPage(event, 'Leave', `We will send no more mails to ${mail.recipient}. If you write to us or fill in a form, we still answer that.`, 'Send me nothing more')
})
