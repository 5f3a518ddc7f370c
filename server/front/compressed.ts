import { constants } from 'node:zlib'
import compression from 'compression'
import type { EventHandler, H3Event } from 'h3'

/** What is smaller gains nothing. */
const LEAST_BYTES = 1024
/** Brotli's middle way: most of what it saves, at the price of gzip. */
const QUALITY = 4
const TEXT = /^(?:text\/(?!event-stream)|application\/(?:json|problem\+json|javascript|manifest\+json|xml|ld\+json)|image\/svg\+xml)/

const compress = compression({
  threshold: LEAST_BYTES,
  filter: (_, res) => TEXT.test(String(res.getHeader('content-type') ?? '')),
  brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: QUALITY } },
})

/** What visitors' browsers send is answered in a few bytes. */
const isTiny = (event: H3Event) => event.method === 'POST' && event.path.startsWith('/w/')

/** Text is compressed on its way, as the browser takes it; files are compressed already, and streams of news are let through as they come. */
export const compressed = (handler: EventHandler): EventHandler =>
  ((event: H3Event) => {
    if (!isTiny(event)) compress(event.node.req as never, event.node.res as never, () => {})
    return handler(event)
  }) as EventHandler
