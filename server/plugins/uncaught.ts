import { defineNitroPlugin } from 'nitropack/runtime'
import { tellUncaught } from '#server/log'

/** Nitro writes down whole errors, and takes its place for that right after its plugins. */
export default defineNitroPlugin(() => void setImmediate(() => tellUncaught()))
