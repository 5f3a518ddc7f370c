import { send, setResponseHeader, setResponseStatus, type H3Error, type H3Event } from 'h3'
import { isAway } from '#db/client'
import { gotInTheWay, TooLong } from '#server/ingest/micro-batcher'
import { awayPage, sendAgainPage, stopPage } from '#server/hosted/away-page'
import { pathOnly, unworded } from '#server/log'
import { problemBody, type Problem } from '#server/problem'
import { header, mediaType, readText } from '#server/wire'

const MACHINES = /^\/(api|w|health)(\/|$|\?)/
const VISITORS = /^\/(p|c|e|m|go|leave)(\/|$|\?)/
const AGAIN_S = 5
const AWAY =
  'Cavlin cannot reach its database just now. Nothing was half done; try again in some seconds. With the same Idempotency-Key an entry counts once.'

const MET =
  'Somebody else did the same at this very moment, perhaps you in another window. Nothing of yours was half done; look again, and try once more.'

/** What goes out when a route throws: problem details, or a page in words for visitors; never a stack or another's data. Other pages are left to Nuxt. */
export default async function (error: H3Error, event: H3Event): Promise<void> {
  const forVisitors = VISITORS.test(event.path)
  if (!forVisitors && !MACHINES.test(event.path)) return
  if (event.node.res.headersSent || event.handled) return
  const cause = error.cause ?? error
  const away = isAway(cause) || cause instanceof TooLong
  const own = (error.data as Problem | undefined)?.type === 'about:blank' ? (error.data as Problem) : null
  // Two did the same at the same moment, which the database lets only one do.
  const met = !own && gotInTheWay(cause)
  const status = met ? 409 : away && !own ? 503 : error.statusCode || 500
  if (status >= 500 && !own && !away) console.error(`${event.method} ${pathOnly(event.path)}: ${unworded(cause)}`)
  const body =
    own ??
    problemBody(
      status,
      met
        ? MET
        : away
          ? AWAY
          : status === 404
            ? 'There is nothing at this address.'
            : status >= 500
              ? 'Something went wrong here. Nothing was half done; try again in a moment.'
              : 'This request cannot be answered.',
    )
  setResponseStatus(event, status)
  if (away) setResponseHeader(event, 'retry-after', AGAIN_S)
  const page = forVisitors
    ? away
      ? awayPage(event)
      : stopPage(event, body.title, body.detail)
    : away
      ? await sentWithoutScript(event)
      : null
  setResponseHeader(event, 'content-type', page === null ? 'application/problem+json' : 'text/html; charset=utf-8')
  await send(event, page ?? JSON.stringify(body))
}

/** A form that a browser sent without any script, to be sent again; null when it was something else. */
async function sentWithoutScript(event: H3Event): Promise<string | null> {
  if (event.method !== 'POST' || !(header(event, 'accept') ?? '').includes('text/html')) return null
  if (mediaType(event) === 'multipart/form-data') return awayPage(event)
  if (mediaType(event) !== 'application/x-www-form-urlencoded') return null
  const typed =
    (event.context.typed as string | undefined) ?? (event.node.req.readableDidRead ? null : await readText(event).catch(() => null))
  return typed ? sendAgainPage(event, new URLSearchParams(typed)) : awayPage(event)
}
