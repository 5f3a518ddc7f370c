import { defineNitroPlugin } from 'nitropack/runtime'
import { forgetKept } from '#server/live/changed'
import { hubInstance } from '#server/live/hub-instance'

export default defineNitroPlugin(() => {
  const hub = hubInstance()
  hub.hear(forgetKept)
  hub.start()
})
