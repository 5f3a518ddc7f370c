import { defineEventHandler, setResponseStatus } from 'h3'
import { applicationContext } from '#server/application-context'
import { hostedNothing } from '#server/hosted/pages'
import { baseOf } from '#server/hosts'
import { limit } from '#server/limits'
import { leadTo } from '#server/wire'

/** Leads on to where a form, quiz or page of ours stands by itself, whatever it is called by now. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const key = event.context.params?.key ?? ''
  const point = /^[\w-]{1,80}$/.test(key) ? await applicationContext().cache.point(key) : undefined
  if (point?.live) return leadTo(event, `${baseOf(point)}/p/${point.slug}`, 303)
  setResponseStatus(event, 404)
  return hostedNothing(event)
})
