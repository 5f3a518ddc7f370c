import { defineEventHandler } from 'h3'
import { assetPath } from '#core/points/next'
import { insertTimeline } from '#db/capture'
import { confirmLead, letterById } from '#db/letters'
import { editionById } from '#db/points'
import { database } from '#server/database'
import { saidPage, strangePage } from '#server/hosted/letter-pages'
import { newId } from '#server/ids'
import { letterOf } from '#server/letters'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { leadTo } from '#server/wire'

export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const sql = database()
  const id = letterOf('confirm', event.context.params?.token ?? '')
  const letter = id && await letterById(sql, id)
  if (!letter) return strangePage(event, 'confirm')
  const at = Date.now()
  await sql.begin(async (tx) => {
    if (await confirmLead(tx, letter.leadId, new Date(at))) await insertTimeline(tx, [{ id: newId(at), lead: letter.leadId, at, kind: 'confirmed', actor: null, payload: { email: letter.email } }])
  })
  await say(sql, { leads: [letter.leadId], jobs: true })
  const confirm = letter.editionId ? (await editionById(sql, letter.editionId))?.definition.confirm : undefined
  if (confirm?.then.kind === 'address') return leadTo(event, confirm.then.address, 303)
  const file = confirm?.then.kind === 'file' ? confirm.then.file : null
  return saidPage(event, 'Confirmed', confirm?.done || 'Thank you. We know now that this address is yours.', 200, file && { text: `Download ${file.name}`, url: assetPath(file) })
})
