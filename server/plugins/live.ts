import { defineNitroPlugin } from 'nitropack/runtime'
import { applicationContext } from '#server/application-context'
import { theHub } from '#server/live/the-hub'
import { trailContext } from '#server/trail/context'

export default defineNitroPlugin(() => {
  const hub = theHub()
  hub.hear((change) => {
    if (!change.ruleset) return
    applicationContext().cache.forget()
    trailContext().forget()
  })
  hub.start()
})
