import { defineEventHandler, setResponseHeader } from 'h3'

/** What machines may look at: the hosted pages, and the pictures on them. All else is the team's, or is no page. */
const ROBOTS = ['User-agent: *', 'Allow: /p/', 'Allow: /w/files/', 'Allow: /w/cavlin.js', 'Disallow: /', ''].join('\n')

export default defineEventHandler(event => {
  setResponseHeader(event, 'content-type', 'text/plain; charset=utf-8')
  setResponseHeader(event, 'cache-control', 'public, max-age=86400')
  return ROBOTS
})
