import { joined, TOPICS, type Topics } from '#core/live/topics'
import type { Db } from '#db/client'
import { briefly } from '#server/log'

export const CHANNEL = 'cavlin'

/** What every process is told: what changed, and what else they have to know of one another. */
export interface Change extends Topics {
  /** There is something for the worker to do. */
  jobs?: true
  /** Who has which point open. */
  here?: { point: string; member: string }[]
  /** Who is writing just now in which conversation: a member, or (null) its visitor. */
  writing?: { conversation: string; member: string | null }[]
  /** A conversation was begun with somebody's browser, or that has come for it. */
  spoken?: true
  /** Members who are signed out everywhere. */
  ended?: string[]
  /** Sessions that were signed out, by their fingerprints. */
  out?: string[]
}

/** PostgreSQL refuses a notification of 8000 bytes or more; ids have 36 letters. */
const MOST_IDS = 100

/**
 * Tells all processes what changed. Call it after the transaction, not inside: a
 * notification inside would make all commits wait for one another (see docs/decisions).
 */
export async function say(db: Db, change: Change): Promise<void> {
  for (const part of parts(change)) await db`select pg_notify(${CHANNEL}, ${JSON.stringify(part)})`
}

/** A change in pieces that a notification can carry. */
function parts(change: Change): Change[] {
  const long = TOPICS.flatMap(topic => {
    const ids = change[topic]
    return Array.isArray(ids) && ids.length > MOST_IDS ? [{ topic, ids }] : []
  })
  if (!long.length) return [change]
  const rest = long.flatMap(({ topic, ids }) =>
    Array.from({ length: Math.ceil(ids.length / MOST_IDS) }, (_, n) => ({ [topic]: ids.slice(n * MOST_IDS, (n + 1) * MOST_IDS) })),
  )
  const short = { ...change }
  for (const { topic } of long) delete short[topic]
  return [...(Object.keys(short).length ? [short] : []), ...rest]
}

/** Two changes as one. */
export function merge(a: Change | null, b: Change): Change {
  const both = (x: string[] = [], y: string[] = []) => [...new Set([...x, ...y])]
  return {
    ...joined(a ?? {}, b),
    ...((a?.jobs || b.jobs) && { jobs: true }),
    ...((a?.ended || b.ended) && { ended: both(a?.ended, b.ended) }),
    ...((a?.out || b.out) && { out: both(a?.out, b.out) }),
    ...((a?.spoken || b.spoken) && { spoken: true }),
    ...((a?.writing || b.writing) && { writing: [...(a?.writing ?? []), ...(b.writing ?? [])] }),
    ...((a?.here || b.here) && { here: [...(a?.here ?? []), ...(b.here ?? [])] }),
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
    timer ??= setTimeout(
      () => {
        timer = undefined
        told = Date.now()
        const all = unsaid!
        unsaid = null
        say(db, all).catch(error => console.error('Could not tell the screens what changed:', briefly(error)))
      },
      Math.max(0, told + ms - Date.now()),
    )
  }
}
