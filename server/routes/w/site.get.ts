import { defineEventHandler, setResponseHeader } from 'h3'
import { publicDisplayRules, shiftOf } from '#server/appearing/audience-token'
import { noticeWords } from '#core/languages/point-words'
import { drawnTheme, HOUSE_THEME } from '#core/points/theme'
import { houseStyles } from '#db/styles'
import { database } from '#server/database'
import { applicationContext } from '#server/application-context'
import { limit } from '#server/limits'
import { trailContext } from '#server/trail/context'
import { ownAddress } from '#server/settings'
import { sayIn } from '#core/languages/say'

/** What the visitors' script needs to know of the site: how agreement is asked for, and which points may appear. The same for everybody. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const batch = trailContext()
  const [{ agreement, language, notice, style, parameters, keepUnfinished }, points, { house }] = await Promise.all([
    batch.settings(),
    batch.appearing(),
    applicationContext().cache.ruleset(),
  ])
  setResponseHeader(event, 'cache-control', 'public, max-age=10')
  const theme = agreement === 'own' && style ? (await houseStyles(database())).find(s => s.id === style)?.theme : undefined
  return {
    agreement,
    notice: agreement === 'own' ? notice : '',
    ...(agreement === 'own' && { drawn: drawnTheme(theme ?? HOUSE_THEME, ownAddress()), language, words: noticeWords(sayIn(language)) }),
    parameters,
    unfinished: keepUnfinished,
    shift: shiftOf(house.zone, new Date()),
    points: points.flatMap(publicDisplayRules),
  }
})
