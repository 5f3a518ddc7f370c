import type { Sql } from '#db/client'
import { couldNotLetIn, dueToLetIn } from '#db/review'
import { approve } from '#server/capture/approve'
import { say } from '#server/live/say'
import type { H3Error } from 'h3'
import type { Problem } from '#server/problem'
import { whyItFailed } from '#server/log'
import { readRuleset } from '#server/ruleset'

/** So long it can be taken back that an entry was let in: as long as the words that offer it stand on the screen. */
export const UNDO_MS = 10_000

/** Lets in whatever is due; one that cannot be waits again, with the reason. @returns how many were tried */
export async function letInDue(sql: Sql, now: Date): Promise<number> {
  const due = await dueToLetIn(sql, now, 50)
  if (!due.length) return 0
  const ruleset = await readRuleset(sql)
  for (const { id } of due) {
    try {
      await approve(sql, ruleset, id)
    } catch (error) {
      await couldNotLetIn(sql, id, (error as H3Error<Problem>).data?.detail ?? whyItFailed(error))
      await say(sql, { review: true })
    }
  }
  return due.length
}
