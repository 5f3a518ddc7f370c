import { defineEventHandler } from 'h3'
import { arrivalWord, allHosts } from '#server/hosts'
import { memberOf } from '#server/session'

/** The names under which forms and pages are found, each with the address to try it at. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const hosts = await allHosts()
  return hosts.map(h => ({
    ...h,
    tryAt: `${h.address}/w/hosts/arrived?${new URLSearchParams({ name: h.name, word: arrivalWord(h.name) })}`,
  }))
})
