import { defineNitroPlugin } from 'nitropack/runtime'
import { compressed } from '#server/front/compressed'
import { withHeaders } from '#server/front/headers'
import { straightened } from '#server/front/straight'
import { withinTime } from '#server/front/within'

/** What every request passes, whatever answers it: smaller on its way, headers first, then the clock, then its way. */
export default defineNitroPlugin(({ h3App, router }) => {
  const through = h3App.handler
  h3App.handler = Object.assign(compressed(withHeaders(withinTime(straightened(router.handler, through)))), through)
})
