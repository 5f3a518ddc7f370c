import { connect, LONG, PROMPT, type Sql } from '#db/client'
import { setting } from '#server/settings'

let prompt: Sql | undefined
let long: Sql | undefined
let lists: Sql | undefined
let tables: Sql | undefined

/** The application's connection pool, made at the first use. */
export function database(): Sql {
  return (prompt ??= connect(setting('CAVLIN_DATABASE'), { name: 'cavlin app', max: 8, patience: PROMPT }))
}

/**
 * For lists that people filter and sort: which index serves best depends on what is asked for, so each is planned by itself.
 */
export function listReadings(): Sql {
  return (lists ??= connect(setting('CAVLIN_DATABASE'), {
    name: 'cavlin lists',
    max: 4,
    patience: PROMPT,
    settings: { plan_cache_mode: 'force_custom_plan' },
  }))
}

/** For tables that are sent while they are read: who takes them slowly keeps a connection for long. */
export function tableReadings(): Sql {
  return (tables ??= connect(setting('CAVLIN_DATABASE'), { name: 'cavlin tables', max: 3, patience: LONG }))
}

/** For what reads through the whole trail: it may take longer, and must not take the others' connections. */
export function longReadings(): Sql {
  return (long ??= connect(setting('CAVLIN_DATABASE'), {
    name: 'cavlin long readings',
    max: 3,
    patience: LONG,
    settings: { plan_cache_mode: 'force_custom_plan' },
  }))
}
