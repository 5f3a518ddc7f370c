import { parse, CsvError } from 'csv-parse/sync'
import type { LeadState } from '#core/leads/lead'
import { propertyOf, setProperty } from '#core/leads/lead'
import { whoKey } from '#core/capture/case'
import { same } from '#core/capture/steps'
import { identify, type Identified } from '#core/identity/identify'
import { personKey, sameByOf } from '#core/identity/same-person'
import { guessColumns, readPeople, type LineFlaw, type TableColumn, type TablePerson } from '#core/lists/people'
import { fitLines, totalsAt } from '#core/scoring/score'
import { labelFor } from '#core/scoring/labels'
import { insertTimeline, leadsByKeys, leadsForUpdate, writeLeads } from '#db/capture'
import { claimSilently } from '#db/claims'
import type { Sql, Tx } from '#db/client'
import { keepKeys } from '#db/identity'
import { addToList } from '#db/lists'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import { judgeOf } from '#server/segments/about'
import type { Ruleset } from '#server/ruleset'

const MOST_PEOPLE = 20_000
const AT_ONCE = 500

/** A table as it was read: what its columns would fill, who is in it, and what is wrong with it. */
export interface Table { columns: TableColumn[]; people: TablePerson[]; flaws: LineFlaw[] }

/**
 * Reads a table of people: CSV, with commas, semicolons or tabs between the cells.
 * @param chosen which property each column fills, where somebody said so; else its header tells
 * @throws 422 with what is wrong with the table as a whole
 */
export function readTable(csv: string, chosen: (string | null)[] | null, ruleset: Ruleset): Table {
  const wrong = (message: string) => problem(422, message, [{ field: 'csv', message }])
  let rows: string[][]
  try {
    const first = csv.slice(0, csv.search(/\r?\n|$/))
    const delimiter = [',', ';', '\t'].sort((a, b) => first.split(b).length - first.split(a).length)[0]!
    rows = parse(csv, { bom: true, delimiter, relax_column_count: true, skip_empty_lines: true, max_record_size: 100_000 })
  } catch (error) {
    if (!(error instanceof CsvError)) throw error
    throw wrong(`The table cannot be read: ${error.message.replace(/\.?$/, '.')} Save it as CSV once more, and try again.`)
  }
  const headers = rows.shift()
  if (!headers || !rows.length) throw wrong('The table needs a first line with the names of its columns, and at least one person under it.')
  if (rows.length > MOST_PEOPLE) throw wrong(`At most ${MOST_PEOPLE} people fit in one go; there are ${rows.length}. Cut the table in two.`)
  const keys = ruleset.properties.map(p => p.key)
  const columns = chosen ? headers.map((header, i) => ({ header, property: keys.includes(chosen[i] ?? '') ? chosen[i]! : null })) : guessColumns(headers, ruleset.properties)
  const filled = columns.flatMap(c => c.property ?? [])
  if (new Set(filled).size < filled.length) throw wrong('Two columns fill the same property. Choose one of them.')
  if (!filled.includes('email')) return { columns, people: [], flaws: [{ line: 1, message: 'No column holds the e-mail addresses. Say which one does.' }] }
  return { columns, ...readPeople(rows, columns, ruleset.properties, ruleset.reading) }
}

/**
 * Puts people on a list, all of them or none. Who is not known yet becomes a lead without an owner, scored and
 * labelled, whom nobody is told of; of who is known, gaps are filled, or everything with `replace`.
 */
export async function bringIn(sql: Sql, ruleset: Ruleset, list: { id: string; name: string }, people: TablePerson[], replace: boolean, by: string, at: number): Promise<{ fresh: number; known: number; leads: string[] }> {
  return await sql.begin(async (tx) => {
    const done = { fresh: 0, known: 0, leads: [] as string[] }
    // In the order in which all lock them.
    const sorted = [...people].sort((a, b) => a.emailKey < b.emailKey ? -1 : 1)
    for (let i = 0; i < sorted.length; i += AT_ONCE) await some(tx, ruleset, list, sorted.slice(i, i + AT_ONCE), replace, by, at, done)
    return done
  })
}

async function some(tx: Tx, ruleset: Ruleset, list: { id: string; name: string }, people: TablePerson[], replace: boolean, by: string, at: number, done: { fresh: number; known: number; leads: string[] }): Promise<void> {
  const whoIs = await finder(tx, ruleset.rules, people)
  const claims: Parameters<typeof claimSilently>[1] = []
  const leads = people.map((p) => {
    const { person, address } = whoIs(p)
    const lead = person ?? newLead(p, ruleset.firstStatus, at)
    for (const [property, value] of Object.entries(p.values)) if (replace || propertyOf(lead, property) === null) setProperty(lead, property, value)
    // Nobody is written to for a table.
    if (address === 'claimed' && !lead.claims.some(c => c.key === p.emailKey)) claims.push({ id: newId(at), lead: lead.id, address: p.email, key: p.emailKey, at: new Date(at) })
    return { lead, fresh: person === null }
  })
  const judge = await judgeOf(tx, ruleset, leads.filter(l => !l.fresh).map(l => l.lead), at)
  const { scorecard, labelOrder, rules } = ruleset
  const written = leads.map(({ lead, fresh }) => {
    lead.reasons = [...fitLines(scorecard, judge(lead), at, lead.reasons).lines, ...lead.reasons.filter(l => l.axis === 'interest')]
    const { fit, interest } = totalsAt(lead.reasons, at, scorecard.halfLifeDays)
    const from = lead.label
    lead.label = labelFor(scorecard.labels, labelOrder, fit, interest, lead.labelFloor).label
    return { lead, fresh, fit, interest, from }
  })
  await writeLeads(tx, written.map(w => ({ ...w, at })))
  await Promise.all([
    ...keepKeys(tx, rules, written.map(({ lead }) => ({ id: lead.id, own: null, keys: rules.flatMap(rule => personKey(sameByOf(rule), property => propertyOf(lead, property)) ?? []) }))),
    ...(claims.length ? [claimSilently(tx, claims)] : []),
    addToList(tx, list.id, written.map(w => w.lead.id), new Date(at)),
    insertTimeline(tx, written.flatMap(({ lead, fresh, from, fit, interest }) => [
      ...(fresh ? [{ id: newId(at), lead: lead.id, at, kind: 'brought_in' as const, actor: by, payload: { list: list.name } }] : []),
      ...(from !== lead.label ? [{ id: newId(at), lead: lead.id, at, kind: 'label' as const, actor: null, payload: { from, to: lead.label, because: 'score' as const, fit, interest } }] : []),
    ])),
  ])
  done.fresh += written.filter(w => w.fresh).length
  done.known += written.filter(w => !w.fresh).length
  done.leads.push(...written.map(w => w.lead.id))
}

/**
 * Who the people of a table are: by their address, else by another key that the house knows people by, where nobody else in the table
 * has it and the names do not speak against it. A number that an office shares makes no two people one.
 */
async function finder(tx: Tx, rules: string[], people: TablePerson[]): Promise<(p: TablePerson) => Identified<LeadState>> {
  const byEmail = new Map((await leadsForUpdate(tx, people.map(p => p.emailKey))).map(l => [l.emailKey, l]))
  const keysOf = (p: TablePerson) => byEmail.has(p.emailKey) ? [] : rules.flatMap(rule => personKey(sameByOf(rule), property => property === 'email' ? p.email : p.values[property]) ?? [])
  const times = new Map<string, number>()
  for (const key of people.flatMap(keysOf).map(whoKey)) times.set(key, (times.get(key) ?? 0) + 1)
  const alone = people.flatMap(keysOf).filter(k => times.get(whoKey(k)) === 1)
  const byKey = new Map((await leadsByKeys(tx, alone)).map(({ who, lead }) => [whoKey(who), lead]))
  const fits = (p: TablePerson, lead: LeadState) => ['first_name', 'last_name'].every(name => !p.values[name] || !propertyOf(lead, name) || same(p.values[name], propertyOf(lead, name)!))
  return p => identify({ keys: keysOf(p), email: { address: p.email, key: p.emailKey } }, (who) => {
    if (who.rule === 'email') return byEmail.get(who.key)
    const lead = byKey.get(whoKey(who))
    return lead && fits(p, lead) ? lead : undefined
  })
}

const newLead = (p: TablePerson, status: string, at: number): LeadState => ({
  id: newId(at), email: p.email, emailKey: p.emailKey, firstName: null, lastName: null, company: null, properties: {}, tags: [], label: null, labelFloor: null, reasons: [],
  ownerId: null, status, statusAt: at, waitingSince: null, nextStep: null, nextStepAt: null, confirmedAt: null, leftAt: null, createdAt: at, givenAt: at, guardedAt: null, claims: [],
})
