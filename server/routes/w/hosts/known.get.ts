import { defineEventHandler, getQuery, sendNoContent } from 'h3'
import { allHosts } from '#server/hosts'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { ownAddress } from '#server/settings'

/** Tells a proxy whether a name is one of ours, so that it gets a certificate for no other: `?domain=`. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const { domain } = getQuery(event)
  const name = typeof domain === 'string' ? domain.toLowerCase() : ''
  if (name === new URL(ownAddress() || 'http://localhost').hostname || (await allHosts()).some(h => h.name === name))
    return sendNoContent(event)
  throw problem(404, 'This name is not one of Cavlin’s. An admin or marketer can add it under Settings, The site.')
})
