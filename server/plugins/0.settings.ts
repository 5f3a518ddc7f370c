import { defineNitroPlugin } from 'nitropack/runtime'
import { stopOnMistakes } from '#server/settings'

/** First of all: with a setting that is wrong nothing is answered. */
export default defineNitroPlugin(() => stopOnMistakes())
