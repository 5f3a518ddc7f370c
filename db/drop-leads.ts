import type { Tx } from '#db/client'
import { eraseEvents } from '#db/events'

/** Takes leads away with all that hangs on them; of what happened to them stays what figures count. They are locked. */
export async function dropLeads(tx: Tx, gone: string[]): Promise<void> {
  if (!gone.length) return
  await eraseEvents(tx, gone)
  await tx`delete from delivery where lead_id = any(${gone}::uuid[]) and (sent_at is not null or member_id is null)`
  await tx`delete from visitor_lead where lead_id = any(${gone}::uuid[])`
  await tx`update unfinished set lead_id = null where lead_id = any(${gone}::uuid[])`
  await tx`delete from dry_run_lead where lead_id = any(${gone}::uuid[])`
  await tx`delete from lead where id = any(${gone}::uuid[])`
}
