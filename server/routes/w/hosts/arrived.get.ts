import { defineEventHandler, getQuery, setResponseStatus } from 'h3'
import { arriveAt } from '#db/hosts'
import { escapeHtml as e } from '#core/text'
import { database } from '#server/database'
import { page } from '#server/hosted/pages'
import { hostOf, isArrivalWord, nameAsked } from '#server/hosts'
import { limit } from '#server/limits'
import { changed } from '#server/live/changed'

/** Where somebody of the team tries whether a name leads here: that their browser came under it is the proof. `?name=` and the `word` that we gave. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const { name, word } = getQuery(event)
  const say = (title: string, text: string, status = 200) => {
    setResponseStatus(event, status)
    return page(event, title, `<div class="cv"><h1 class="cv-title">${e(title)}</h1><p>${e(text)}</p></div>`)
  }
  if (typeof name !== 'string' || typeof word !== 'string' || !isArrivalWord(name, word))
    return say('This is not an address of ours', 'Open it from Settings, The site in Cavlin, as it stands there.', 404)
  const host = await hostOf(event)
  if (host?.name !== name)
    return say(
      'It came under another name',
      `The request for ${name} came as ${nameAsked(event) || 'no name at all'}. Let the proxy pass on the name that was asked for: as Host, or as X-Forwarded-Host where Cavlin trusts it (CAVLIN_TRUST_PROXY).`,
      409,
    )
  if (await arriveAt(database(), name)) await changed({ site: true, points: true })
  return say(`${name} leads here`, 'You can close this page. From now on, what stands under this name is found there.')
})
