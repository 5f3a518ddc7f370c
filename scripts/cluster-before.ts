import type postgres from 'postgres'

/** What does something as a role, with its password, in a database. */
export type As = <T>(role: string, password: string, database: string, work: (sql: postgres.Sql) => Promise<T>) => Promise<T>

/** Who renames that role, and is gone when the cluster has been prepared. */
export const PASSING = 'cavlin_passing'

/**
 * A cluster of an earlier day was made, and looked after, by the application's own role. Whoever made a cluster owns its catalogue
 * and stays powerful without the word “superuser”, so that role becomes the one that looks after the cluster, and the
 * application gets a new one that owns its database and what is in it. All of it, or nothing.
 * @param passwords of the application's role, then and now, and of who looks after the cluster from now on
 */
export async function takeOver(as: As, admin: string, passwords: { database: string; admin: string }): Promise<void> {
  await as('cavlin', passwords.database, 'postgres', async sql => {
    // No role can rename itself.
    await sql.unsafe(`drop role if exists ${PASSING}`)
    await sql.unsafe(`create role ${PASSING} superuser login password '${passwords.admin}'`)
    const [there] = await sql`select from pg_database where datname = 'cavlin'`
    if (!there) await sql.unsafe('create database cavlin')
  })
  await as(PASSING, passwords.admin, 'cavlin', sql =>
    sql.begin(async sql => {
      await sql.unsafe(`alter role cavlin rename to ${admin}`)
      await sql.unsafe(`alter role ${admin} password '${passwords.admin}'`)
      await sql.unsafe(`create role cavlin login password '${passwords.database}'`)
      await sql.unsafe('alter database cavlin owner to cavlin')
      await sql.unsafe(HAND_OVER)
    }),
  )
}

/** Gives the application all that stands in its database, except what an extension brought and what follows its table. */
const HAND_OVER = `do $$
declare change text;
begin
  for change in
    with ours as (select oid, nspname from pg_namespace where nspname not like 'pg\\_%' and nspname <> 'information_schema'),
    bound as (select classid, objid from pg_depend where deptype in ('e', 'a', 'i'))
    select format('alter schema %I owner to cavlin', nspname) from ours where nspname <> 'public'
    union all
    select format('alter %s %s owner to cavlin', case relkind when 'S' then 'sequence' else 'table' end, oid::regclass) from pg_class
      where relnamespace in (select oid from ours) and relkind in ('r', 'p', 'v', 'm', 'S')
      and (relkind <> 'S' or not exists (select from bound where classid = 'pg_class'::regclass and objid = pg_class.oid))
    union all
    select format('alter routine %s owner to cavlin', oid::regprocedure) from pg_proc
      where pronamespace in (select oid from ours) and not exists (select from bound where classid = 'pg_proc'::regclass and objid = pg_proc.oid)
    union all
    select format('alter type %s owner to cavlin', oid::regtype) from pg_type
      where typnamespace in (select oid from ours) and typtype in ('e', 'd') and not exists (select from bound where classid = 'pg_type'::regclass and objid = pg_type.oid)
  loop
    execute change;
  end loop;
end $$`
