import { wholeInterestSql } from '#core/scoring/interest-key'
import type { Db } from '#db/client'

export interface Spot { id: string; name: string; fit: number; interest: number; label: string | null }
/** Where open leads stand, for the map of fit and interest. */
export const spots = (db: Db, most: number) => db<Spot[]>`
  select l.id, coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody') as name, l.fit, ${db.unsafe(wholeInterestSql('now()'))} as interest, l.label
  from lead l join status s on s.key = l.status where s.stage in ('first', 'open') order by l.updated_at desc limit ${most}`
