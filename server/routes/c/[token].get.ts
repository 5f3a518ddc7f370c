import { defineEventHandler } from 'h3'
import { mailById } from '#db/mails'
import { editionById } from '#db/points'
import { database } from '#server/database'
import { askPage, saidPage, strangePage } from '#server/hosted/mail-pages'
import { idOfToken } from '#server/signed-addresses'
import { limit } from '#server/limits'
import { sayIn } from '#core/languages/say'

export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const id = idOfToken('confirm', event.context.params?.token ?? '')
  const mail = id && (await mailById(database(), id))
  if (!mail) return strangePage(event, 'confirm')
  const { language, recipient: address } = mail
  const say = sayIn(language)
  if (mail.confirmedAt) return saidPage(event, language, say('confirmedTitle'), say('confirmedAlready'))
  const then = mail.editionId ? (await editionById(database(), mail.editionId))?.definition.confirm?.then : undefined
  const what =
    mail.point && mail.at
      ? say('confirmAbout', { day: mail.at.toISOString().slice(0, 10), point: mail.point, address })
      : say('confirmBare', { address })
  return askPage(
    event,
    language,
    say('confirmTitle'),
    `${what} ${say('confirmAsk')}`,
    say('confirmYes'),
    then?.kind === 'address' ? [then.address] : [],
  )
})
