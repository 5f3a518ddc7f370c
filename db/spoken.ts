import type { Db } from '#db/client'

/** The live chats, in the order in which points speak. */
export const liveChats = (db: Db) => db<{ key: string; name: string }[]>`
  select key, name from point where kind = 'chat' and live_edition is not null and archived_at is null order by priority, created_at, id`

/** Conversations that one of us began and no browser has come for yet. */
export const waitingToBeFetched = (db: Db, since: Date) => db<{ visitorId: string; point: string; id: string; secret: string }[]>`
  select distinct on (s.visitor_id) s.visitor_id, p.key as point, c.id, s.secret from spoken_first s join conversation c on c.id = s.conversation_id join point p on p.id = c.point_id
  where s.at > ${since} order by s.visitor_id, s.at desc`
export const keepForBrowser = (db: Db, s: { id: string; visitorId: string; secret: string; at: Date }) => db`
  insert into spoken_first (conversation_id, visitor_id, secret, at) values (${s.id}, ${s.visitorId}, ${s.secret}, ${s.at})`
export const fetched = async (db: Db, id: string): Promise<boolean> =>
  (await db`delete from spoken_first where conversation_id = ${id}`).count > 0
