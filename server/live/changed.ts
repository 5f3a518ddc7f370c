import type { Topics } from '#core/live/topics'
import { applicationContext } from '#server/application-context'
import { database } from '#server/database'
import { forgetHosts } from '#server/hosts'
import { forgetNotes } from '#server/chat/notes'
import { forgetSpoken } from '#server/chat/spoken'
import { say, type Change } from '#server/live/say'
import { trailContext } from '#server/trail/context'

/** Forgets what this process keeps in memory of what changed. */
export function forgetKept(change: Change): void {
  forgetSpoken(change)
  applicationContext().cache.forget(change)
  trailContext().forget(change)
  forgetHosts(change)
  forgetNotes(change)
}

/** After a change of what processes keep in memory: this one counts on it no longer, the others and the screens are told. */
export async function changed(change: Topics): Promise<void> {
  forgetKept(change)
  await say(database(), change)
}
