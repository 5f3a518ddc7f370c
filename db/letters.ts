import type { Case } from '#core/capture/case'
import type { Goal } from '#core/points/letters'
import type { Db, Statement, Tx } from '#db/client'

/** Writes the letters of entries down, in the transaction of the entries. */
export function insertLetters(tx: Db, cases: Case[]): Statement[] {
  const rows = cases.flatMap(c => c.letters.map(l => ({
    id: l.id, lead_id: c.lead.id, entry_id: c.intake.entryId, kind: l.kind, subject: l.subject, body: l.text, days: l.days, goal: l.goal, unless_followed: l.unlessFollowed, due_at: l.due === null ? null : new Date(l.due).toISOString(),
  })))
  return rows.length ? [tx`insert into letter (id, lead_id, entry_id, kind, subject, body, days, goal, unless_followed, due_at)
    select id, lead_id, entry_id, kind, subject, body, days, goal, unless_followed, due_at from jsonb_to_recordset(${rows as never}::jsonb)
      as r(id uuid, lead_id uuid, entry_id uuid, kind text, subject text, body text, days int, goal jsonb, unless_followed boolean, due_at timestamptz)`] : []
}

/** Writes a reminder of something unfinished. It counts as a mail that nobody asked for at once. */
export const insertReminder = (tx: Tx, r: { id: string; lead: string; unfinished: string; subject: string; text: string }) => tx`
  insert into letter (id, lead_id, unfinished_id, kind, subject, body, days, due_at) values (${r.id}, ${r.lead}, ${r.unfinished}, 'letter', ${r.subject}, ${r.text}, 1, now())`

export interface DueLetter { id: string; leadId: string; entryId: string | null; kind: 'confirm' | 'letter' | 'meeting'; subject: string; body: string; days: number; tries: number; email: string; leftAt: Date | null; /** One of the mails of the same entry had its link followed, and this one is for those who did not; or what it reminds of was finished. */ done: boolean }
/** Letters that are due, locked; those in another worker's hands are passed over. */
export const dueLetters = (tx: Tx, most: number) => tx<DueLetter[]>`
  select t.id, t.lead_id, t.entry_id, t.kind, t.subject, t.body, t.days, t.tries, l.email, l.left_at,
    t.unless_followed and exists (select from letter o where o.entry_id = t.entry_id and o.followed_at is not null)
      or exists (select from unfinished u where u.id = t.unfinished_id and u.finished_at is not null) as done
  from letter t join lead l on l.id = t.lead_id
  where t.sent_at is null and t.dropped is null and t.due_at <= now() and l.email is not null order by t.due_at limit ${most} for update of t skip locked`

/** How many letters a lead got within the last hour. */
export async function lettersLately(tx: Db, lead: string): Promise<number> {
  return (await tx<{ n: number }[]>`select count(*) as n from letter where lead_id = ${lead} and sent_at > now() - interval '1 hour'`)[0]!.n
}

export const letterSent = (tx: Db, id: string) => tx`update letter set sent_at = now() where id = ${id}`
export const dropLetter = (tx: Db, id: string, why: string) => tx`update letter set dropped = ${why} where id = ${id}`
/** Tries again later, longer each time, for about two days; then gives up. */
export const postponeLetter = (tx: Db, id: string, tries: number) => tries >= 40
  ? dropLetter(tx, id, 'could not be handed over')
  : tx`update letter set tries = tries + 1, due_at = now() + ${Math.min(3600, 5 * 2 ** Math.min(tries, 10))} * interval '1 second' where id = ${id}`

export interface LetterOf { leadId: string; email: string; confirmedAt: Date | null; leftAt: Date | null; kind: string; editionId: string | null }
export async function letterById(db: Db, id: string): Promise<LetterOf | undefined> {
  return (await db<LetterOf[]>`select t.lead_id, l.email, l.confirmed_at, l.left_at, t.kind, e.edition_id
    from letter t join lead l on l.id = t.lead_id left join entry e on e.id = t.entry_id where t.id = ${id}`)[0]
}

/** The address is theirs: what waited for that goes out. @returns false when that was known before */
export async function confirmLead(tx: Db, lead: string, at: Date): Promise<boolean> {
  const { count } = await tx`update lead set confirmed_at = ${at}, updated_at = ${at} where id = ${lead} and confirmed_at is null`
  await tx`update letter set due_at = ${at}::timestamptz + days * interval '1 day' where lead_id = ${lead} and due_at is null and sent_at is null and dropped is null`
  return count === 1
}

/** They want no more mail: nothing that waits goes out. @returns false when they had left before */
export async function leave(tx: Db, lead: string, at: Date): Promise<boolean> {
  const { count } = await tx`update lead set left_at = ${at}, updated_at = ${at} where id = ${lead} and left_at is null`
  await tx`update letter set dropped = 'left' where lead_id = ${lead} and sent_at is null and dropped is null and kind = 'letter'`
  return count === 1
}

/** Where the link of a letter leads, and whose it is. */
export async function goalOf(db: Db, id: string): Promise<{ leadId: string; goal: Goal | null; subject: string; followedAt: Date | null } | undefined> {
  return (await db<{ leadId: string; goal: Goal | null; subject: string; followedAt: Date | null }[]>`select lead_id, goal, subject, followed_at from letter where id = ${id}`)[0]
}
/** The link was followed. @returns false when it had been before */
export async function followed(db: Db, id: string, at: Date): Promise<boolean> {
  return (await db`update letter set followed_at = ${at} where id = ${id} and followed_at is null`).count === 1
}
