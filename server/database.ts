import { connect, type Sql } from '#db/client'

let client: Sql | undefined

/** The application's connection pool, made at the first use. */
export function database(): Sql {
  return client ??= connect(setting('CAVLIN_DATABASE'), { name: 'cavlin app', max: 10 })
}

/** A setting from the environment that must be there. */
export function setting(name: string): string {
  const value = process.env[name]
  if (!value) throw new Error(`${name} is not set. Start Cavlin with \`npm run demo\`, or see docs/settings.md.`)
  return value
}
