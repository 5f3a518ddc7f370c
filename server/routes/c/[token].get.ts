import { defineEventHandler } from 'h3'
import { mailById } from '#db/mails'
import { editionById } from '#db/points'
import { database } from '#server/database'
import { askPage, saidPage, strangePage } from '#server/hosted/mail-pages'
import { idOfToken } from '#server/signed-addresses'
import { limit } from '#server/limits'

export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const id = idOfToken('confirm', event.context.params?.token ?? '')
  const mail = id && await mailById(database(), id)
  if (!mail) return strangePage(event, 'confirm')
  if (mail.confirmedAt) return saidPage(event, 'Confirmed', 'You have confirmed this address already. There is nothing more to do.')
  const then = mail.editionId ? (await editionById(database(), mail.editionId))?.definition.confirm?.then : undefined
  const what = mail.point && mail.at ? `On ${mail.at.toISOString().slice(0, 10)} somebody sent us “${mail.point}” and gave us ${mail.recipient}.` : `Somebody gave us ${mail.recipient}.`
  return askPage(event, 'Is this address yours?', `${what} If it was you, confirm that the address is yours; until then you get nothing from us. If it was not, close this page.`, 'Yes, it was me, and it is mine', then?.kind === 'address' ? [then.address] : [])
})
