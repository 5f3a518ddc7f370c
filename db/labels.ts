import type { Label } from '#core/vocabulary'
import type { Db, Tx } from '#db/client'

/** Who asks for a label: leads that carry it or may not fall below it, scorecards, and points that give it. */
export interface LabelUse {
  leads: number
  inCard: boolean
  points: string[]
}
export async function usesOfLabel(db: Db, key: string): Promise<LabelUse> {
  const [row] = await db<LabelUse[]>`select
    (select count(*)::int from lead l where exists (select from label j where (j.key = ${key} or j.joined_into = ${key}) and j.key in (l.label, l.label_floor))) as leads,
    exists (select from scorecard_edition s where s.number = (select max(number) from scorecard_edition) and s.definition->'labels' @> ${[{ label: key }] as never}::jsonb)
      or exists (select from scorecard_draft where definition->'labels' @> ${[{ label: key }] as never}::jsonb) as in_card,
    array(select p.name from point p left join edition d on d.id = p.live_edition
      where p.archived_at is null and (p.working_copy->'actions' @> ${[{ kind: 'label', label: key }] as never}::jsonb or d.definition->'actions' @> ${[{ kind: 'label', label: key }] as never}::jsonb) order by p.name) as points`
  return row!
}

/** Writes all labels, in their order; those that are not among them go. Nobody may carry them any more. */
export async function saveLabels(tx: Tx, labels: Label[]): Promise<void> {
  const rows = labels.map(l => ({ key: l.key, name: l.name, rank: l.rank, qualified: l.qualified, response_target: l.responseTarget }))
  await tx`delete from label where joined_into is null and key <> all(${labels.map(l => l.key)})`
  // Each place is one label's: they step aside first.
  await tx`update label set rank = -1 - rank where joined_into is null`
  await tx`insert into label (key, name, rank, qualified, response_target)
    select key, name, rank, qualified, response_target from jsonb_to_recordset(${rows as never}::jsonb) as r(key text, name text, rank int, qualified boolean, response_target int)
    on conflict (key) do update set name = excluded.name, rank = excluded.rank, qualified = excluded.qualified, response_target = excluded.response_target`
}
export const lockLabels = (tx: Tx) => tx`lock table label in share row exclusive mode`
/** All leads are judged by the live scorecard once more. */
export const takeOverAgain = (tx: Tx) => tx`
  update card_takeover set finished_at = null, position = null where card = (select max(number) from scorecard_edition)`

/** What may name a label beside the leads: each with its definition, as it is stored. */
export interface NamesLabel {
  segments: { id: string; name: string; condition: unknown }[]
  /** The plan that is live, and its working copy. */
  plan: unknown
  planDraft: unknown
  /** Working copies, and what is live. */
  points: { id: string; name: string; workingCopy: unknown; live: unknown }[]
}
export async function whatNamesLabels(tx: Tx): Promise<NamesLabel> {
  const [segments, [plan], [planDraft], points] = await Promise.all([
    tx<NamesLabel['segments']>`select id, name, condition from segment for update`,
    tx<{ definition: unknown }[]>`select definition from routing_edition order by number desc limit 1`,
    tx<{ definition: unknown }[]>`select definition from routing_draft for update`,
    tx<
      NamesLabel['points']
    >`select p.id, p.name, p.working_copy, e.definition as live from point p left join edition e on e.id = p.live_edition where p.archived_at is null for update of p`,
  ])
  return { segments, plan: plan?.definition ?? null, planDraft: planDraft?.definition ?? null, points }
}

/** A label is joined with another, and so are those that had been joined with it. */
export async function joinLabel(tx: Tx, from: string, into: string): Promise<void> {
  await tx`update label set joined_into = ${into} where joined_into = ${from}`
  await tx`update label set joined_into = ${into}, rank = -1000 - rank - 100 * (select count(*) from label where joined_into is not null)::int where key = ${from}`
}
export const renameInSegment = (tx: Tx, id: string, condition: unknown) =>
  tx`update segment set condition = ${condition as never} where id = ${id}`
export const renameInWorkingCopy = (tx: Tx, id: string, copy: unknown) =>
  tx`update point set working_copy = ${copy as never}, revision = revision + 1 where id = ${id}`
export const renameInPlanDraft = (tx: Tx, definition: unknown) =>
  tx`update routing_draft set definition = ${definition as never}, revision = revision + 1, changed_at = now()`
/** The working copy of the scorecard, whoever has it open. */
export const renameInDraft = (tx: Tx, definition: unknown) =>
  tx`update scorecard_draft set definition = ${definition as never}, revision = revision + 1, changed_at = now()`
export const addEdition = (tx: Tx, definition: unknown, by: string, at: Date) =>
  tx`insert into scorecard_edition (definition, made_at, made_by) values (${definition as never}, ${at}, ${by})`
