import { createHub } from '#server/live/hub'
import { setting } from '#server/settings'

let hub: ReturnType<typeof createHub> | undefined
/** This process's hub. */
export const hubInstance = () => (hub ??= createHub(setting('CAVLIN_DATABASE')))
