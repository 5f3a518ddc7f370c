import { defineEventHandler } from 'h3'
import { assetPath } from '#core/points/next'
import { mailById } from '#db/mails'
import { editionById } from '#db/points'
import { applicationContext } from '#server/application-context'
import { confirmAddressOf } from '#server/claims/confirm'
import { database } from '#server/database'
import { saidPage, strangePage } from '#server/hosted/mail-pages'
import { idOfToken } from '#server/signed-addresses'
import { limit } from '#server/limits'
import { sayIn } from '#core/languages/say'
import { leadTo } from '#server/wire'

export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const sql = database()
  const id = idOfToken('confirm', event.context.params?.token ?? '')
  const mail = id && (await mailById(sql, id))
  if (!mail) return strangePage(event, 'confirm')
  const { language } = mail
  const say = sayIn(language)
  const came = await confirmAddressOf(sql, await applicationContext().cache.ruleset(), mail, Date.now())
  if (came === 'judge') return saidPage(event, language, say('thanksTitle'), say('confirmedJudge'))
  const confirm = mail.editionId ? (await editionById(sql, mail.editionId))?.definition.confirm : undefined
  if (confirm?.then.kind === 'address') return leadTo(event, confirm.then.address, 303)
  const file = confirm?.then.kind === 'file' ? confirm.then.file : null
  return saidPage(
    event,
    language,
    say('confirmedTitle'),
    confirm?.done || say('confirmed'),
    200,
    file && { text: say('download', { name: file.name }), url: assetPath(file) },
  )
})
