import type { Sql } from '#db/client'
import { timelineOf, type TimelineRow } from '#db/timeline'
import { changesIn } from '#core/events/event'

interface Row {
  id: string
  email: string | null
  firstName: string | null
  lastName: string | null
  company: string | null
  properties: object
  tags: string[]
  label: string | null
  labelFloor: string | null
  fit: number
  owner: string | null
  status: string
  waitingSince: Date | null
  nextStep: string | null
  nextStepAt: Date | null
  confirmedAt: Date | null
  unsubscribedAt: Date | null
  submittedAt: Date | null
  guardedAt: Date | null
  createdAt: Date
  updatedAt: Date
  statusAt: Date
  ownedAt: Date | null
  reasons: { axis: string; rule: string; points: number; at: number; note?: string }[]
}
const UUID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g

/** A line beside events, as far as two runs share it. */
function told({ at, kind, actor, payload }: Exclude<TimelineRow, { kind: 'event' }>): {
  at: Date
  kind: string
  actor: string | null
  payload: unknown
} {
  if (kind === 'visit') return { at, kind, actor, payload: payload.trail.map(e => `${e.kind} ${e.path}`) }
  return { at, kind, actor, payload: kind === 'unfinished' ? payload.answers : payload }
}

/**
 * All that is kept of a lead, as text that two runs share: times as minutes since `start`, ids by the names of what they stand for.
 * Such portraits hold what every way to a changed lead makes of it.
 */
export async function portrait(sql: Sql, id: string, start: number): Promise<string> {
  const [lead] = await sql<Row[]>`select l.*, m.name as owner from lead l left join member m on m.id = l.owner_id where l.id = ${id}`
  if (!lead) return 'nobody\n'
  const names = new Map(
    (
      await sql<{ id: string; name: string }[]>`
    select id, name from member union all select id, name from list union all select id, name from segment union all select id, key from point`
    ).map(r => [r.id, r.name]),
  )
  const since = (at: Date | number | null) => (at === null ? 'never' : minutes(Number(at) - start))
  const named = (value: unknown) =>
    JSON.stringify(value)
      .replace(UUID, found => names.get(found) ?? 'an id')
      .replace(/"(\d{4}-\d\d-\d\dT[^"]+)"/g, (_, moment: string) => since(Date.parse(moment)))
  const lists = await sql<{ listId: string }[]>`select list_id from list_member where lead_id = ${id}`
  const notices = await sql<{ name: string; subject: string; mailed: boolean }[]>`
    select m.name, n.subject, n.due_at is not null as mailed from delivery n join member m on m.id = n.member_id where n.lead_id = ${id} order by n.at, m.name, n.subject`
  const mails = await sql<{ recipient: string; subject: string; kind: string; dueAt: Date | null; dropped: string | null }[]>`
    select recipient, subject, kind, due_at, dropped from delivery where lead_id = ${id} and member_id is null order by due_at, subject`
  const claims = await sql<{ address: string; theirs: boolean | null; asked: boolean }[]>`
    select address, theirs, asked_at is not null as asked from claimed_address where lead_id = ${id} order by address`
  const browsers = await sql<{ since: string; until: string; undone: boolean; proven: boolean }[]>`
    select since::text, until::text, undone_at is not null as undone, proven_at is not null as proven from visitor_lead where lead_id = ${id} order by visitor_lead.since, id`
  const keys = await sql<{ rule: string; key: string }[]>`select rule, key from lead_key where lead_id = ${id} order by rule, key`
  const lines = (await timelineOf(sql, id, null, 200)).flatMap(row =>
    row.kind === 'event'
      ? changesIn(row.payload.changes)
          .reverse()
          .map(change => ({ at: row.at, actor: row.actor, ...change }))
      : [told(row)],
  )
  const moment = (text: string) => (/infinity/.test(text) ? text : since(Date.parse(text)))
  return (
    [
      `${[lead.firstName, lead.lastName].filter(Boolean).join(' ') || 'no name'} <${lead.email}>${lead.company ? `, ${lead.company}` : ''}`,
      `properties ${named(lead.properties)}, tags ${lead.tags.join(' ') || 'none'}, lists ${
        lists
          .map(l => names.get(l.listId))
          .sort()
          .join(', ') || 'none'
      }`,
      `label ${lead.label} (floor ${lead.labelFloor}), fit ${lead.fit}, owner ${lead.owner} since ${since(lead.ownedAt)}`,
      `status ${lead.status} since ${since(lead.statusAt)}, waits since ${since(lead.waitingSince)}, next step ${lead.nextStep} by ${since(lead.nextStepAt)}`,
      `created ${since(lead.createdAt)}, changed ${since(lead.updatedAt)}, given ${since(lead.submittedAt)}, confirmed ${since(lead.confirmedAt)}, left ${since(lead.unsubscribedAt)}, guarded ${since(lead.guardedAt)}`,
      ...lead.reasons.map(r => `  ${r.axis} ${r.rule} ${r.points} at ${since(r.at)}${r.note ? ` (${r.note})` : ''}`),
      ...keys.map(k => `known by ${k.rule}: ${k.key.replaceAll('\u001f', ' ')}`),
      ...claims.map(
        c => `claim ${c.address}, ${c.asked ? 'asked' : 'not asked'}, ${c.theirs === null ? 'open' : c.theirs ? 'theirs' : 'not theirs'}`,
      ),
      ...browsers.map(
        b => `browser from ${moment(b.since)} until ${moment(b.until)}${b.undone ? ', parted' : ''}${b.proven ? ', proven' : ''}`,
      ),
      ...notices.map(n => `notice to ${n.name}${n.mailed ? ', mailed' : ''}: ${n.subject}`),
      ...mails.map(
        m => `mail (${m.kind}) to ${m.recipient}, due ${since(m.dueAt)}${m.dropped ? `, dropped: ${m.dropped}` : ''}: ${m.subject}`,
      ),
      ...lines.map(l => `${since(l.at)} ${l.kind}${l.actor ? ` by ${l.actor}` : ''} ${named(l.payload)}`),
    ].join('\n') + '\n'
  )
}

const minutes = (ms: number) => `${ms < 0 ? '-' : '+'}${Math.abs(Math.round(ms / 6000) / 10)}m`
