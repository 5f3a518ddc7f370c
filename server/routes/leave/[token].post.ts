import { defineEventHandler } from 'h3'
import { insertTimeline } from '#db/capture'
import { dropClaimed } from '#db/claims'
import { leave, letterById } from '#db/letters'
import { database } from '#server/database'
import { saidPage, strangePage } from '#server/hosted/letter-pages'
import { newId } from '#server/ids'
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
  const at = Date.now()
  await sql.begin(async (tx) => {
    // Who got a mail at an address that is not the lead's leaves for that address, and not for the lead.
    if (!letter.own) return void (letter.claimId && await dropClaimed(tx, letter.claimId))
    if (await leave(tx, letter.leadId, new Date(at))) await insertTimeline(tx, [{ id: newId(at), lead: letter.leadId, at, kind: 'left', actor: null, payload: { email: letter.recipient } }])
  })
  await say(sql, { leads: [letter.leadId] })
  return saidPage(event, 'You have left', `We send no more mails to ${letter.recipient}.`)
})
