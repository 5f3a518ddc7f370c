import { fragment, type Column, type Fragment } from '#core/conditions/sql'

/** SQL that attributes share, over the lead `l`. */
export const raw = (text: string): Fragment => fragment([text])
export const one = (text: string): Column => ({ one: raw(text) })
/** A moment's day in UTC, as ISO 8601 writes it. */
export const day = (moment: string): string => `to_char(${moment} at time zone 'UTC', 'YYYY-MM-DD')`
export const yesNo = (test: string): Column => one(`case when ${test} then 'yes' else 'no' end`)
/** Visits that belong to the lead: its browsers', while they were its own. Machines' do not count. */
export const VISITS = `from visitor_lead v join visit t on t.visitor_id = v.visitor_id and t.began_at >= v.since and t.began_at < v.until
  where v.lead_id = l.id and v.undone_at is null and not t.robot`
/** One text or a list of them, by a key of a piece of JSON: most are one, and a query for each row costs several times what looking does. */
export const textsIn = (json: Fragment, key: string): Column => ({
  isMany: fragment`jsonb_typeof(${json} -> ${key}::text) = 'array'`,
  one: fragment`${json} ->> ${key}::text`,
  many: fragment`select jsonb_array_elements_text(${json} -> ${key}::text) as v`,
})
