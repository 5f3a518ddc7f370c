import type { Db } from '#db/client'

export const CHANNEL = 'cavlin'

/** What changed, told to every process: which leads, whose, and whether something standing did. */
export interface Change { leads?: string[]; members?: string[]; standing?: boolean; jobs?: boolean; asides?: boolean; trail?: boolean; here?: { point: string; member: string }[] }

/** PostgreSQL refuses a notification of 8000 bytes or more; ids have 36 letters. */
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
