import { defineNitroPlugin } from 'nitropack/runtime'
import { endStreams } from '#server/live/streams'

/** Told to stop, we end what is open without an end, and finish what is under way; nobody's screen holds us up. */
export default defineNitroPlugin(() => {
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, endStreams)
})
