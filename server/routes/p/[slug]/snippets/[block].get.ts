import { defineEventHandler, getRouterParam } from 'h3'
import { livePage } from '#db/points'
import { database } from '#server/database'
import { hostedSnippet } from '#server/hosted/pages'
import { limit } from '#server/limits'
import { problem } from '#server/problem'

/** The foreign code of a block of a live page, for the frame in which it runs. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const page = await livePage(database(), getRouterParam(event, 'slug') ?? '')
  const block = page?.live?.definition.blocks.find(b => b.key === getRouterParam(event, 'block'))
  if (block?.kind !== 'snippet') throw problem(404, 'There is no such part of a page.')
  return hostedSnippet(event, block, page!.live!.definition.language)
})
