import * as vue from 'vue'
import { createPinia, defineStore, setActivePinia } from 'pinia'
import { ApiError } from '../../app/utils/api'

/**
 * What Nuxt brings into every file of the interface by itself, for tests that run a part of it without a browser.
 * @param more what a test puts in the place of the rest of the house: `api`, `useLive`, `useSession` …
 */
export function asInNuxt(more: Record<string, unknown>): void {
  setActivePinia(createPinia())
  Object.assign(globalThis, vue, { defineStore, ApiError, ...more })
}
