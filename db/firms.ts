import type { FirmKeys } from '#core/routing/firm'
import type { Db } from '#db/client'

/** Of more firms than so many people of a domain may not come, or it is a provider's. */
export const FIRMS_OF_A_DOMAIN = 3

/** The people of a firm, by its name and by the domain of their addresses, those first that were changed last. */
export const peopleOfFirm = async (db: Db, { domain, firm }: FirmKeys, most: number): Promise<string[]> =>
  (
    await db<{ id: string }[]>`
    with named as (select k.lead_id, k.domain from lead_likeness k where k.firm = ${firm})
    select l.id from lead l where l.id in (
      select lead_id from named
      union select k.lead_id from lead_likeness k where k.domain = ${domain} and (select count(distinct o.firm) from lead_likeness o where o.domain = ${domain}) <= ${FIRMS_OF_A_DOMAIN})
    order by l.updated_at desc limit ${most}`
  ).map(r => r.id)
