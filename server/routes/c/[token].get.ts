import { defineEventHandler } from 'h3'
import { letterById } from '#db/letters'
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
  return askPage(event, 'Is this address yours?', `You, or somebody else, gave us ${letter.email}. Confirm that it is yours; until then you get nothing from us.`, 'Yes, it is mine')
})
