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
    (select count(*)::int from lead where label = ${key} or label_floor = ${key}) as leads,
    exists (select from scorecard_edition s where s.number = (select max(number) from scorecard_edition) and s.definition->'labels' @> ${[{ label: key }] as never}::jsonb)
      or exists (select from scorecard_draft where definition->'labels' @> ${[{ label: key }] as never}::jsonb) as in_card,
    array(select p.name from point p left join edition d on d.id = p.live_edition
      where p.archived_at is null and (p.working_copy->'actions' @> ${[{ kind: 'label', label: key }] as never}::jsonb or d.definition->'actions' @> ${[{ kind: 'label', label: key }] as never}::jsonb) order by p.name) as points`
  return row!
}

/** Writes all labels, in their order; those that are not among them go. Nobody may carry them any more. */
export async function saveLabels(tx: Tx, labels: Label[]): Promise<void> {
  const rows = labels.map(l => ({ key: l.key, name: l.name, rank: l.rank, qualified: l.qualified, response_target: l.responseTarget }))
  await tx`delete from label where key <> all(${labels.map(l => l.key)})`
  // Each place is one label's: they step aside first.
  await tx`update label set rank = -1 - rank`
  await tx`insert into label (key, name, rank, qualified, response_target)
    select key, name, rank, qualified, response_target from jsonb_to_recordset(${rows as never}::jsonb) as r(key text, name text, rank int, qualified boolean, response_target int)
    on conflict (key) do update set name = excluded.name, rank = excluded.rank, qualified = excluded.qualified, response_target = excluded.response_target`
}
export const lockLabels = (tx: Tx) => tx`lock table label in share row exclusive mode`
/** All leads are judged by the live scorecard once more. */
export const takeOverAgain = (tx: Tx) => tx`
  update card_takeover set finished_at = null, position = null where card = (select max(number) from scorecard_edition)`
