import type { Db } from '#db/client'

/** One state of a definition that was live once, or is. */
export interface EditionRow<D> {
  number: number
  definition: D
  madeAt: Date
  madeBy: string | null
}
/** What is being worked on; there is none before somebody changes something. */
export interface DraftRow<D> {
  definition: D
  revision: number
  changedAt: Date
  changedBy: string | null
}

/** The working copy and the editions of what the house has one of (a scorecard, a plan), in two tables of the same columns. */
export function editionsIn<D extends object>(draft: string, edition: string) {
  const rows = (db: Db, most: number | null) => db<EditionRow<D>[]>`
    select e.number, e.definition, e.made_at, m.name as made_by from ${db(edition)} e left join member m on m.id = e.made_by order by number desc limit ${most}`
  return {
    /** The one that is live. */
    live: async (db: Db): Promise<EditionRow<D> | undefined> => (await rows(db, 1))[0],
    /** All that ever were, the latest first. */
    all: (db: Db) => rows(db, null),
    /** An edition by its number; undefined when there is none. */
    numbered: async (db: Db, number: number): Promise<EditionRow<D> | undefined> =>
      (
        await db<EditionRow<D>[]>`
      select e.number, e.definition, e.made_at, m.name as made_by from ${db(edition)} e left join member m on m.id = e.made_by where e.number = ${number}`
      )[0],
    add: (db: Db, definition: D, at: Date) => db`insert into ${db(edition)} (definition, made_at) values (${definition as never}, ${at})`,
    draft: async (db: Db): Promise<DraftRow<D> | undefined> =>
      (
        await db<DraftRow<D>[]>`
      select d.definition, d.revision, d.changed_at, m.name as changed_by from ${db(draft)} d left join member m on m.id = d.changed_by`
      )[0],
    /** Keeps the working copy. @param revision of what it was changed from; 0 where there was none. @returns the new revision; null when somebody was faster */
    async save(db: Db, definition: D, revision: number, by: string): Promise<number | null> {
      const [row] = await db<{ revision: number }[]>`
        insert into ${db(draft)} as d (definition, changed_by) select ${definition as never}, ${by} where ${revision} = 0
        on conflict (only_one) do nothing returning d.revision`
      if (row || revision === 0) return row?.revision ?? null
      const [changed] = await db<{ revision: number }[]>`
        update ${db(draft)} set definition = ${definition as never}, revision = revision + 1, changed_at = now(), changed_by = ${by}
        where revision = ${revision} returning revision`
      return changed?.revision ?? null
    },
    /** Makes an edition of the working copy, which is live from now on. @returns it; null when somebody changed it meanwhile, or it is live as it stands */
    async publish(tx: Db, revision: number, by: string, at: Date): Promise<{ number: number; definition: D } | null> {
      const [now] = await tx<{ definition: D }[]>`select definition from ${tx(draft)} where revision = ${revision} for update`
      if (!now) return null
      const [row] = await tx<{ number: number }[]>`
        insert into ${tx(edition)} (definition, made_at, made_by) select ${now.definition as never}, ${at}, ${by}
        where not exists (select from ${tx(edition)} where number = (select max(number) from ${tx(edition)}) and definition = ${now.definition as never}::jsonb)
        returning number`
      return row ? { number: row.number, definition: now.definition } : null
    },
  }
}
