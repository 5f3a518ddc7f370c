import { isByEmail, personKey, type SameBy } from '#core/identity/same-person'
import { propertyOf, type LeadState } from '#core/leads/lead'
import type { Tx } from '#db/client'
import { addKeys, leadsForKeys } from '#db/identity'

const AT_ONCE = 2000

/** Works out by which key each lead is known under a rule that nobody used before. */
export async function fillKeys(tx: Tx, same: SameBy): Promise<void> {
  if (isByEmail(same)) return
  for (let after: string | null = null; ;) {
    const leads: Awaited<ReturnType<typeof leadsForKeys>> = await leadsForKeys(tx, after, AT_ONCE)
    const rows = leads.flatMap(l => {
      const key = personKey(same, property => propertyOf(l as unknown as LeadState, property))
      return key ? [{ leadId: l.id, ...key }] : []
    })
    if (rows.length) await addKeys(tx, rows)
    if (leads.length < AT_ONCE) return
    after = leads.at(-1)!.id
  }
}
