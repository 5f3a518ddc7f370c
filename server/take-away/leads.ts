import { DateTime } from 'luxon'
import type { Property, PropertyValue } from '#core/properties/kinds'
import { scoreAt } from '#core/scoring/lines'
import type { Filter } from '#db/lead-list'
import { allLeads, type LeadRow } from '#db/leads'
import type { Sql } from '#db/client'
import type { Ruleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'
import type { Cell, Sheet } from '#server/take-away/sheet'

const OWN = ['email', 'first_name', 'last_name', 'company']

/** Leads of a filter, a row each, in the words of the house; read while they are sent. */
export function leadsSheet(sql: Sql, filter: Filter, ruleset: Ruleset, now: number): Sheet {
  const { zone, currency } = ruleset.house
  const others = ruleset.properties.filter(p => !OWN.includes(p.key) && p.kind !== 'file' && p.sensitivity !== 'sensitive')
  const named = (all: { key: string; name: string }[], key: string | null) => all.find(o => o.key === key)?.name ?? key
  const day = (at: Date) => DateTime.fromJSDate(at, { zone }).toFormat('yyyy-MM-dd HH:mm')
  const value = (p: Property, v: PropertyValue | undefined): Cell => {
    if (v === undefined) return null
    if (p.kind === 'money') return Number(v) / 10 ** ruleset.reading.cents
    if (p.kind === 'number') return Number(v)
    return [v]
      .flat()
      .map(one => p.choices.find(c => c.value === one)?.text ?? one)
      .join(', ')
  }
  const rowOf = (l: LeadRow): Cell[] => {
    const { fit, interest } = scoreAt(l.reasons, now, ruleset.scorecard.halfLifeDays)
    return [
      l.email,
      l.firstName,
      l.lastName,
      l.company,
      ...others.map(p => value(p, l.properties[p.key])),
      l.tags.join(', '),
      named(ruleset.labels, l.label),
      fit,
      interest,
      l.ownerName,
      named(ruleset.statuses, l.status),
      l.nextStep,
      l.nextStepAt && day(l.nextStepAt),
      day(l.createdAt),
      day(l.updatedAt),
      `${ownAddress()}/follow-up/leads/${l.id}`,
    ]
  }
  async function* rows(): AsyncGenerator<Cell[]> {
    for await (const some of allLeads(sql, filter)) for (const lead of some) yield rowOf(lead)
  }
  const columns = [
    'E-mail',
    'First name',
    'Last name',
    'Company',
    ...others.map(p => (p.kind === 'money' ? `${p.label} (${currency})` : p.label)),
    'Tags',
    'Label',
    'Fit',
    'Interest',
    'Owner',
    'Status',
    'Next step',
    'Due',
    'Since',
    'Changed',
    'In Cavlin',
  ]
  return { name: 'Leads', columns, rows: rows() }
}
