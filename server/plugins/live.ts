import { defineNitroPlugin } from 'nitropack/runtime'
import { theOffice } from '#server/capture/office'
import { theHub } from '#server/live/the-hub'
import { theTrailDesk } from '#server/trail/desk'

export default defineNitroPlugin(() => {
  const hub = theHub()
  hub.hear((change) => {
    if (!change.standing) return
    theOffice().cache.forget()
    theTrailDesk().forget()
  })
  hub.start()
})
