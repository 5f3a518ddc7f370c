import type { Db } from '#db/client'

/** When each task was done last, and what went wrong, if it did. Tasks that never ran are missing. */
export const lastRuns = async (db: Db, names: string[]) =>
  await db<{ name: string; at: Date; problem: string | null }[]>`
  select distinct on (name) name, coalesce(completed_on, started_on) as at,
    case when state = 'failed' then left(coalesce(output ->> 'message', 'It failed and did not say why.'), 300) end as problem
  from pgboss.job where name = any(${names}) and state in ('completed', 'failed') order by name, coalesce(completed_on, started_on) desc`
