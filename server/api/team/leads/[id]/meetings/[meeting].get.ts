import { defineEventHandler } from 'h3'
import { movable } from '#server/meetings/choose'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** The times that a meeting can be moved to: free hours of the lead's owner, as who chose it is offered them. */
export default defineEventHandler(async event => {
  await memberOf(event, 'work leads')
  const offered = await movable(idFrom(event), idFrom(event, 'meeting'))
  if (!offered) throw problem(409, 'This meeting was called off, is over, or its lead has no owner to meet.')
  const { free, minutes, owner } = offered
  return { free: free.filter(at => at !== offered.chosen!.startsAt.getTime()).map(at => new Date(at).toISOString()), minutes, with: owner }
})
