import type { Db } from '#db/client'

export interface PageView {
  id: string; at: Date; visitor: string; visit: string; page: string; path: string; title: string | null; referrer: string | null; utm: Record<string, string>
}

/** Which lead a browser belongs to, if any. */
export async function leadOfVisitor(db: Db, visitor: string): Promise<string | null> {
  return (await db<{ leadId: string }[]>`select lead_id from visitor where id = ${visitor}`)[0]?.leadId ?? null
}

/** Keeps a page view. A repetition of the same one is dropped. */
export async function addPageView(db: Db, v: PageView, lead: string | null): Promise<boolean> {
  return (await db`insert into trail_event (id, at, visitor_id, visit_id, kind, lead_id, page, path, title, referrer, utm)
    values (${v.id}, ${v.at}, ${v.visitor}, ${v.visit}, 'page_view', ${lead}, ${v.page}, ${v.path}, ${v.title}, ${v.referrer}, ${v.utm as never})
    on conflict do nothing`).count === 1
}

/** Takes everything away that a browser did and that belongs to no lead. */
export const forgetVisitor = (db: Db, visitor: string) => db`delete from trail_event where visitor_id = ${visitor} and lead_id is null`
