import type { LeadState } from '#core/leads/lead'

/** Somebody came between our lock and what we read behind it: trying again finds everything locked. */
export class CameBetween extends Error {
  override name = 'CameBetween'
  /** As PostgreSQL says it of transactions that must be tried again (serialization failure). */
  readonly code = '40001'
}

/** Makes sure that all leads that were read are locked. @throws CameBetween */
export function allLocked(locked: readonly { id: string }[], leads: LeadState[]): void {
  const ids = new Set([...locked].map(row => row.id))
  if (leads.some(lead => !ids.has(lead.id))) throw new CameBetween('A lead appeared while others were locked.')
}
