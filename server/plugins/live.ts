import { defineNitroPlugin } from 'nitropack/runtime'
import { applicationContext } from '#server/application-context'
import { hubInstance } from '#server/live/hub-instance'
import { trailContext } from '#server/trail/context'

export default defineNitroPlugin(() => {
  const hub = hubInstance()
  hub.hear((change) => {
    if (!change.ruleset) return
    applicationContext().cache.forget()
    trailContext().forget()
  })
  hub.start()
})
