import { defineEventHandler } from 'h3'
import { isbot } from 'isbot'
import { assetPath } from '#core/points/next'
import { goalOf, markClicked } from '#db/mails'
import { applicationContext } from '#server/application-context'
import { database } from '#server/database'
import { strangePage } from '#server/hosted/mail-pages'
import { changeLeads } from '#server/ingest/change'
import { idOfToken, signedToken } from '#server/signed-addresses'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { trailContext } from '#server/trail/context'
import { header, leadTo } from '#server/wire'

/** The link of a mail: leads on, and keeps that it was followed. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const sql = database()
  const id = idOfToken('follow', event.context.params?.token ?? '')
  const mail = id && (await goalOf(sql, id))
  const place = mail && (mail.goal?.kind === 'address' ? mail.goal.address : mail.goal?.file ? assetPath(mail.goal.file) : null)
  if (!mail || !place) return strangePage(event, 'follow')
  const at = Date.now()
  if (!isbot(header(event, 'user-agent'))) {
    const ruleset = await applicationContext().cache.ruleset()
    const isFirst = await sql.begin(async tx => {
      const first = await markClicked(tx, id, new Date(at))
      if (first) await changeLeads(tx, ruleset, [{ kind: 'clicked', at, by: null, lead: mail.leadId, subject: mail.subject }])
      return first
    })
    if (isFirst) await say(sql, { leads: [mail.leadId] })
  }
  return leadTo(event, (await ofTheSite(place)) ? withWord(place, signedToken('arrived', mail.leadId, at)) : place, 303)
})

/** Whether an address is on one of the team's own sites, whose script may learn that its reader came by this link. */
async function ofTheSite(place: string): Promise<boolean> {
  const { origins } = await trailContext().settings()
  return URL.canParse(place) && origins.includes(new URL(place).origin)
}

function withWord(place: string, word: string): string {
  const url = new URL(place)
  url.searchParams.set('cavlin', word)
  return url.href
}
