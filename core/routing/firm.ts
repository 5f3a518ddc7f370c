import providers from 'email-providers'
import { likenessKeys } from '#core/identity/likeness'
import type { LeadState } from '#core/leads/lead'

const PROVIDERS = new Set<string>(providers)

/** By what a firm is known: the domain of its people's addresses, and its name as it is compared. */
export interface FirmKeys {
  domain: string | null
  firm: string | null
}

/** By what others of a lead's firm are found: the domain of their address, unless a provider has it for everybody, and the firm's name. */
export function firmOf(lead: Parameters<typeof likenessKeys>[0] & Pick<LeadState, 'id'>): { lead: string } & FirmKeys {
  const { domain, firm } = likenessKeys(lead, [])
  return { lead: lead.id, domain: domain !== null && PROVIDERS.has(domain) ? null : domain, firm }
}
