import type { ReviewedEntry, ReviewList } from '#core/review'
import { eventually, readDatabase } from './house'

type Asks = (path: string, method?: string, body?: unknown) => Promise<Response>

/** Entries that were held or refused, as a member sees them. */
export const reviewed = async (asks: Asks): Promise<ReviewedEntry[]> =>
  ((await (await asks('/api/team/review')).json()) as ReviewList).items.filter(item => item.kind === 'entry')

/** Lets an entry in, and does not wait until it can be taken back no longer. */
export async function letIn(asks: Asks, entry: string): Promise<void> {
  await asks('/api/team/review/let-in', 'POST', { entries: [entry] })
  await readDatabase(sql => sql`update entry set let_in_at = now() where id = ${entry} and let_in_at is not null`)
  await eventually(() => readDatabase(async sql => (await sql`select from entry where id = ${entry} and state = 'complete'`).length > 0))
}
