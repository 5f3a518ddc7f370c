import type { ComparedLead, Comparison } from '#core/review'
import { sideBySide, staysBetter } from '#core/leads/merge'
import { propertyText } from '#core/properties/text'
import type { PropertyValue } from '#core/properties/kinds'
import { leadState } from '#db/book'
import { briefLeads } from '#db/leads'
import { heldBy } from '#db/merges'
import { pairOf } from '#db/likeness'
import type { Sql } from '#db/client'
import { briefView } from '#server/review/list'
import type { Ruleset } from '#server/ruleset'

const CALLED: Record<string, string> = { owner: 'Owner', status: 'Status', next_step: 'Next step' }

/** Two leads side by side; undefined when one of them is not there. */
export async function compare(sql: Sql, ruleset: Ruleset, a: string, b: string): Promise<Comparison | undefined> {
  const [one, other, briefs, holds, pair] = await Promise.all([
    leadState(sql, a),
    leadState(sql, b),
    briefLeads(sql, [a, b]),
    heldBy(sql, [a, b]),
    pairOf(sql, a, b),
  ])
  if (!one || !other) return undefined
  const text = (what: string, value: PropertyValue | null): string | null => {
    if (value === null) return null
    if (what === 'owner') return ruleset.members.get(String(value))?.name ?? 'somebody who has left'
    if (what === 'status') return ruleset.statuses.find(s => s.key === value)?.name ?? String(value)
    return propertyText(
      ruleset.properties.find(p => p.key === what),
      value,
      ruleset.house.currency,
    )
  }
  const seen = (lead: typeof one): ComparedLead => ({
    ...briefView(briefs.find(l => l.id === lead.id)!),
    createdAt: new Date(lead.createdAt).toISOString(),
    updatedAt: holds.get(lead.id)!.updatedAt.toISOString(),
    holds: { ...holds.get(lead.id)!.holds, tags: lead.tags },
    isUnsubscribed: lead.unsubscribedAt !== null,
  })
  const order = ruleset.properties.map(p => p.key)
  const place = (what: string) => (CALLED[what] ? 1e6 : what === 'email' ? -1 : order.indexOf(what) < 0 ? 1e5 : order.indexOf(what))
  const stages = ['parked', 'first', 'lost', 'open', 'won']
  const rank = (status: string) => stages.indexOf(ruleset.statuses.find(s => s.key === status)?.stage ?? 'first')
  return {
    leads: [seen(one), seen(other)],
    lines: sideBySide(one, other)
      .toSorted((x, y) => place(x.what) - place(y.what))
      .map(({ what, values, isSame }) => ({
        what,
        label: CALLED[what] ?? ruleset.properties.find(p => p.key === what)?.label ?? what,
        values,
        texts: [text(what, values[0]), text(what, values[1])],
        isSame,
      })),
    stays: staysBetter(one, other, rank),
    strength: pair && pair.strength > 0 ? pair.strength : null,
    reasons: pair?.reasons ?? [],
  }
}
