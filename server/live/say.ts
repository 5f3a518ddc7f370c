import type { Db } from '#db/client'
import { briefly } from '#server/log'

export const CHANNEL = 'cavlin'

/** What changed, told to every process: which leads, whose, and whether the ruleset did. */
export interface Change {
  leads?: string[]; members?: string[]; ruleset?: boolean; jobs?: boolean; review?: boolean; trail?: boolean; deliveries?: boolean
  /** Points whose working copy was saved: nothing that visitors or leads meet. */
  drafts?: string[]
  here?: { point: string; member: string }[]
  /** Members who are signed out everywhere. */
  ended?: string[]
  /** Sessions that were signed out, by their fingerprints. */
  out?: string[]
}

/** PostgreSQL refuses a notification of 8000 bytes or more; ids have 36 mails. */
const MOST_IDS = 100

/**
 * Tells all processes what changed. Call it after the transaction, not inside: a
 * notification inside would make all commits wait for one another (see docs/decisions).
 */
export async function say(db: Db, change: Change): Promise<void> {
  const leads = change.leads ?? []
  const parts = leads.length > MOST_IDS ? [{ ...change, leads: leads.slice(0, MOST_IDS) }, { leads: leads.slice(MOST_IDS) }] : [change]
  await db`select pg_notify(${CHANNEL}, ${JSON.stringify(parts[0])})`
  if (parts[1]) await say(db, parts[1])
}

/** Two changes as one. */
export function merge(a: Change | null, b: Change): Change {
  const both = (x: string[] = [], y: string[] = []) => [...new Set([...x, ...y])]
  return {
    leads: both(a?.leads, b.leads), members: both(a?.members, b.members),
    ruleset: Boolean(a?.ruleset || b.ruleset), jobs: Boolean(a?.jobs || b.jobs),
    ...((a?.review || b.review) && { review: true }),
    ...((a?.trail || b.trail) && { trail: true }),
    ...((a?.deliveries || b.deliveries) && { deliveries: true }),
    ...((a?.drafts || b.drafts) && { drafts: both(a?.drafts, b.drafts) }),
    ...((a?.ended || b.ended) && { ended: both(a?.ended, b.ended) }),
    ...((a?.out || b.out) && { out: both(a?.out, b.out) }),
    ...((a?.here || b.here) && { here: [...a?.here ?? [], ...b.here ?? []] }),
  }
}

/**
 * Says what changed at once after a quiet time, and what follows within so many ms together.
 * It is on disk; that screens hear of it must not hold up an answer.
 */
export function sayTogether(db: Db, ms: number): (change: Change) => void {
  let unsaid: Change | null = null
  let timer: NodeJS.Timeout | undefined
  let told = 0
  return function tell(change) {
    unsaid = merge(unsaid, change)
    timer ??= setTimeout(() => {
      timer = undefined
      told = Date.now()
      const all = unsaid!
      unsaid = null
      say(db, all).catch(error => console.error('Could not tell the screens what changed:', briefly(error)))
    }, Math.max(0, told + ms - Date.now()))
  }
}
