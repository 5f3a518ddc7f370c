import type { Db } from '#db/client'

/** What an event holds of words, as its index has it. */
const SAID = `coalesce(v.changes->'note'->>'text', v.changes->'note_changed'->>'text', v.changes->'call'->>'text',
  (v.changes->'wrote'->>'subject') || ' ' || (v.changes->'wrote'->>'text'), (v.changes->'replied'->>'subject') || ' ' || (v.changes->'replied'->>'text'))`

const MOST_WORDS = 6
const like = (word: string) => `%${word.replace(/[\\%_]/g, '\\$&')}%`

/**
 * The leads in whose notes, calls and mails all words of a search stand in one place. What a note said before it was changed, or
 * removed, is not looked at.
 */
export function leadsWhoseWords(db: Db, search: string) {
  const words = search.trim().split(/\s+/).filter(Boolean).slice(0, MOST_WORDS)
  return db`(
    select coalesce((select m.root from lead_merge m where m.gone = v.lead_id), v.lead_id) from lead_event v
    where v.changes ?| array['note', 'note_changed', 'call', 'wrote', 'replied'] ${words.map(word => db`and ${db.unsafe(SAID)} ilike ${like(word)}`)}
      and not exists (select from lead_event c where v.changes ?| array['note', 'note_changed'] and c.lead_id = v.lead_id and c.version > v.version
        and c.changes->'note_changed'->>'of' = coalesce(v.changes->'note_changed'->>'of', v.lead_id || ' ' || v.version)))`
}

/** In how many leads' notes and mails words stand: no more than so many are counted. */
export const countSaid = async (db: Db, search: string, most: number): Promise<number> =>
  (
    await db<
      { n: number }[]
    >`select count(*)::int as n from (select distinct x.id from lead x where x.id in ${leadsWhoseWords(db, search)} limit ${most}) y`
  )[0]!.n

export interface LikeRow {
  id: string
  name: string
  company: string | null
  email: string | null
}
/** Who is called nearly so, the nearest first: by trigrams of the words (pg_trgm's word similarity, from its own threshold of 0.6 on). */
export async function calledLike(db: Db, search: string, most: number): Promise<LikeRow[]> {
  const words = db`(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '') || ' ' || coalesce(l.company, '') || ' ' || coalesce(l.email, '') || ' ' || coalesce(l.properties->>'phone', ''))`
  return await db<LikeRow[]>`
    select l.id, coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody') as name, l.company, l.email
    from lead l where ${search} <% ${words} order by word_similarity(${search}, ${words}) desc, l.updated_at desc limit ${most}`
}
