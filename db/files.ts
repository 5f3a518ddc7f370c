import type { IncomingFile } from '#core/capture/intake'
import type { LeadFile } from '#core/files/lead-file'
import type { Db, Statement, Tx } from '#db/client'

export interface StoredFile {
  id: string
  name: string
  type: string
  size: number
  width: number | null
  height: number | null
}
export interface FileContent extends StoredFile {
  content: Buffer
}

const columns = (db: Db) => db`id, name, type, size, width, height`

/** Keeps the files of an entry. Ones without content are there already, and find their entry again. */
export function keepFiles(db: Db, entry: string, at: Date, files: IncomingFile[]): Statement[] {
  return files.map(f =>
    f.content === null
      ? db`update file set entry_id = ${entry} where id = ${f.id}`
      : db`insert into file (id, purpose, entry_id, question, name, type, size, sha256, content, made_at)
        values (${f.id}, 'answer', ${entry}, ${f.question}, ${f.name}, ${f.type}, ${f.size}, ${Buffer.from(f.sha256, 'hex')}, ${f.content as Buffer}, ${at})`,
  )
}

/** The files of an entry, taken off it so that they outlive it. */
export const releaseFiles = (db: Db, entry: string) => db<
  { id: string; question: string; name: string; type: string; size: number; sha256: Buffer }[]
>`
  update file set entry_id = null where entry_id = ${entry} returning id, question, name, type, size, sha256`

/** A visitor's file, with its content. */
export async function answerFile(db: Db, id: string): Promise<FileContent | undefined> {
  return (
    await db<FileContent[]>`select ${columns(db)}, content from file where id = ${id} and purpose = 'answer' and entry_id is not null`
  )[0]
}

/** A file that members see: a visitor's, one that was put to a note or a mail, or one of a conversation; with its content. */
export async function innerFile(db: Db, id: string): Promise<FileContent | undefined> {
  return (
    await db<FileContent[]>`select ${columns(db)}, content from file
    where id = ${id} and ((purpose = 'answer' and entry_id is not null) or (purpose = 'lead' and used_at is not null) or purpose = 'talk')`
  )[0]
}

/** Keeps a file that is to go along with a note or a mail about a lead. @returns false without such a lead */
export const addLeadFile = async (
  db: Db,
  f: Omit<StoredFile, 'width' | 'height'> & { sha256: string; content: Buffer; lead: string; by: string },
): Promise<boolean> =>
  (
    await db`insert into file (id, purpose, lead_id, name, type, size, sha256, content, made_at, made_by)
    select ${f.id}::uuid, 'lead', l.id, ${f.name}, ${f.type}, ${f.size}, ${Buffer.from(f.sha256, 'hex')}, ${f.content}, now(), ${f.by} from lead l where l.id = ${f.lead} returning 1`
  ).length > 0

/**
 * Takes files that somebody put down for a note or a mail, each once.
 * @param delivery the mail that takes them along; null: a note
 * @returns those that were taken, in the order of their ids
 */
export const takeLeadFiles = (tx: Tx, lead: string, by: string, ids: string[], delivery: string | null) => tx<LeadFile[]>`
  with taken as (update file set used_at = now(), delivery_id = ${delivery} where id = any(${ids}::uuid[]) and lead_id = ${lead} and made_by = ${by} and used_at is null returning id, name, size)
  select id, name, size from taken order by id`

/** The files that go along with a mail, with their content. */
export const filesOfDelivery = (db: Db, delivery: string) =>
  db<FileContent[]>`select ${columns(db)}, content from file where delivery_id = ${delivery} order by id`

/** Keeps files that stand in a conversation. @param by who of us sends them; null: its visitor @param question what a visitor's answer */
export async function addTalkFiles(
  db: Db,
  conversation: string,
  files: IncomingFile[],
  by: string | null,
  question: string | null,
): Promise<void> {
  for (const f of files)
    await db`insert into file (id, purpose, conversation_id, question, name, type, size, sha256, content, made_at, made_by)
      values (${f.id}, 'talk', ${conversation}, ${question}, ${f.name}, ${f.type}, ${f.size}, ${Buffer.from(f.sha256, 'hex')}, ${f.content as Buffer}, now(), ${by})`
}
export const countTalkFiles = async (db: Db, conversation: string): Promise<number> =>
  (await db<{ n: number }[]>`select count(*)::int as n from file where conversation_id = ${conversation}`)[0]!.n
/** The files that answer questions of a conversation, as an entry takes them: they are kept already. */
export async function filesAnswering(db: Db, conversation: string): Promise<IncomingFile[]> {
  const rows = await db<(Omit<IncomingFile, 'sha256' | 'content'> & { sha256: Buffer })[]>`
    select id, question, name, type, size, sha256 from file where conversation_id = ${conversation} and question is not null order by id`
  return rows.map(r => ({ ...r, sha256: r.sha256.toString('hex'), content: null }))
}
/** Lets go of files that came to nothing. */
export const dropTalkFiles = (db: Db, ids: string[]) => db`delete from file where id = any(${ids}::uuid[]) and purpose = 'talk'`
/** A file of a conversation, with its content. */
export const talkFile = async (db: Db, id: string): Promise<FileContent | undefined> =>
  (await db<FileContent[]>`select ${columns(db)}, content from file where id = ${id} and purpose = 'talk'`)[0]
/** Has files of a conversation go along with a mail. */
export const mailTalkFiles = (tx: Tx, ids: string[], delivery: string) =>
  tx`update file set delivery_id = ${delivery} where id = any(${ids}::uuid[]) and purpose = 'talk'`

/** Lets go of files that no note and no mail took. */
export const forgetUnusedFiles = (db: Db, before: Date) =>
  db`delete from file where purpose = 'lead' and used_at is null and made_at < ${before}`

/** A picture or download of ours, with its content. */
export async function assetFile(db: Db, id: string): Promise<FileContent | undefined> {
  return (await db<FileContent[]>`select ${columns(db)}, content from file where id = ${id} and purpose = 'asset'`)[0]
}

/** Keeps a picture or download; the same under the same name is kept once. */
export async function addAsset(db: Db, f: StoredFile & { sha256: string; content: Buffer; by: string; at: Date }): Promise<StoredFile> {
  const [row] = await db<StoredFile[]>`
    insert into file (id, purpose, name, type, size, sha256, width, height, content, made_at, made_by)
    values (${f.id}, 'asset', ${f.name}, ${f.type}, ${f.size}, ${Buffer.from(f.sha256, 'hex')}, ${f.width}, ${f.height}, ${f.content}, ${f.at}, ${f.by})
    on conflict (sha256, name) where purpose = 'asset' do update set name = excluded.name
    returning ${columns(db)}`
  return row!
}

export interface Size {
  width: number
  content: Buffer
}
/** Keeps a picture's sizes. */
export async function keepSizes(db: Db, file: string, sizes: Size[]): Promise<void> {
  for (const { width, content } of sizes)
    await db`insert into file_size (file_id, width, content) values (${file}, ${width}, ${content}) on conflict do nothing`
  await db`update file set sized_at = now() where id = ${file}`
}
/** A picture whose sizes were not made yet. */
export async function unsized(db: Db): Promise<{ id: string; content: Buffer } | undefined> {
  return (
    await db<
      { id: string; content: Buffer }[]
    >`select id, content from file where purpose = 'asset' and type like 'image/%' and sized_at is null order by made_at limit 1`
  )[0]
}
/** A picture in one of its widths, if that was made. */
export async function assetSize(db: Db, id: string, width: number): Promise<FileContent | undefined> {
  return (
    await db<
      FileContent[]
    >`select f.id, regexp_replace(f.name, '\\.[^.]*$', '') || '.webp' as name, 'image/webp' as type, octet_length(s.content) as size, s.width, null::int as height, s.content
    from file_size s join file f on f.id = s.file_id where s.file_id = ${id} and s.width = ${width} and f.purpose = 'asset'`
  )[0]
}

/** The pictures and downloads there are, newest first. */
export const assets = (db: Db, most: number) =>
  db<StoredFile[]>`select ${columns(db)} from file where purpose = 'asset' order by made_at desc limit ${most}`

/** Which of these are there. */
export async function assetsKnown(db: Db, ids: string[]): Promise<Set<string>> {
  return new Set((await db<{ id: string }[]>`select id from file where purpose = 'asset' and id = any(${ids}::uuid[])`).map(r => r.id))
}
