import { createApp, defineEventHandler, setResponseHeader, setResponseStatus } from 'h3'
import { portOf, serve } from './serve'
import { site } from './site/pages'
import { strollPage, strollScript } from './site/stroll'

/** Larkmoss Glasshouses' own web site: somebody else's pages, on another origin, with our script on them. */
const pages = site(process.env.CAVLIN_URL ?? '')
const script = await strollScript()
const app = createApp()
app.use(
  defineEventHandler(event => {
    const path = event.path.split('?')[0]!.replace(/\/$/, '') || '/'
    setResponseHeader(event, 'content-type', 'text/html; charset=utf-8')
    if (pages[path]) return pages[path]
    if (path === '/visitors') return strollPage()
    if (path === '/visitors.js') {
      setResponseHeader(event, 'content-type', 'text/javascript; charset=utf-8')
      return script
    }
    setResponseStatus(event, 404)
    return pages['/not-found']
  }),
)
serve(app, portOf('CAVLIN_SITE_PORT'))
