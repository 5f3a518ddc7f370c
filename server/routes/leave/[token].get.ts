import { defineEventHandler } from 'h3'
import { letterById } from '#db/letters'
import { database } from '#server/database'
import { askPage, saidPage, strangePage } from '#server/hosted/letter-pages'
import { letterOf } from '#server/letters'
import { limit } from '#server/limits'

export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const id = letterOf('leave', event.context.params?.token ?? '')
  const letter = id && await letterById(database(), id)
  if (!letter) return strangePage(event, 'leave')
  if (letter.leftAt && letter.own) return saidPage(event, 'You have left', `We send no more mails to ${letter.recipient}.`)
  return askPage(event, 'Leave', `We will send no more mails to ${letter.recipient}. If you write to us or fill in a form, we still answer that.`, 'Send me nothing more')
})
