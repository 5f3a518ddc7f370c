import type { Db } from '#db/client'

/** Says that a process lives. */
export const beat = (db: Db, name: string) =>
  db`insert into pulse values (${name}, now()) on conflict (name) do update set at = excluded.at`

/** Seconds since a process last said that it lives; null when it never did. */
export async function secondsSinceBeat(db: Db, name: string): Promise<number | null> {
  return (
    (await db<{ seconds: number }[]>`select extract(epoch from now() - at)::float8 as seconds from pulse where name = ${name}`)[0]
      ?.seconds ?? null
  )
}
