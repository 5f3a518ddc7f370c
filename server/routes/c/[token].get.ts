import { defineEventHandler } from 'h3'
import { letterById } from '#db/letters'
import { editionById } from '#db/points'
import { database } from '#server/database'
import { askPage, saidPage, strangePage } from '#server/hosted/letter-pages'
import { letterOf } from '#server/letters'
import { limit } from '#server/limits'

export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const id = letterOf('confirm', event.context.params?.token ?? '')
  const letter = id && await letterById(database(), id)
  if (!letter) return strangePage(event, 'confirm')
  if (letter.confirmedAt) return saidPage(event, 'Confirmed', 'You have confirmed this address already. There is nothing more to do.')
  const then = letter.editionId ? (await editionById(database(), letter.editionId))?.definition.confirm?.then : undefined
  const what = letter.point && letter.at ? `On ${letter.at.toISOString().slice(0, 10)} somebody sent us “${letter.point}” and gave us ${letter.recipient}.` : `Somebody gave us ${letter.recipient}.`
  return askPage(event, 'Is this address yours?', `${what} If it was you, confirm that the address is yours; until then you get nothing from us. If it was not, close this page.`, 'Yes, it was me, and it is mine', then?.kind === 'address' ? [then.address] : [])
})
