import { setting } from '#server/database'
import { createHub } from '#server/live/hub'

let hub: ReturnType<typeof createHub> | undefined
/** This process's hub. */
export const hubInstance = () => hub ??= createHub(setting('CAVLIN_DATABASE'))
