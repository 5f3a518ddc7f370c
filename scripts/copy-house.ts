import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { postgresPrograms } from './debian'
import type { Place } from './place'
import { run } from './run'
import { Stop } from './say'

/** Writes all that stands in a database to a file, as the statements that make it again. */
export async function keepCopy(databaseUrl: string, file: string): Promise<void> {
  const wishes = ['--no-owner', '--no-privileges', '--no-comments', `--file=${file}`]
  const { code, output } = await run(join(await postgresPrograms(), 'pg_dump'), [...wishes, databaseUrl])
  if (code !== 0) throw new Stop(`The database could not be copied: ${output.trim()}`)
}

/**
 * Fills an empty database from a copy. Its history names the addresses at which the first house is reached; here it names ours.
 * @param from the house that the copy was made of
 */
export async function takeCopy(from: { place: Place; copy: string }, place: Place, databaseUrl: string): Promise<void> {
  let text = readFileSync(from.copy, 'utf8')
  for (const [name, port] of Object.entries(from.place.ports))
    text = text.replaceAll(`127.0.0.1:${port}`, `127.0.0.1:${place.ports[name as keyof Place['ports']]}`)
  const file = join(place.data, 'copy.sql')
  writeFileSync(file, `${text}\nanalyze;\n`, { mode: 0o600 })
  const wishes = ['--no-psqlrc', '--quiet', '--set=ON_ERROR_STOP=1', '--single-transaction', '--output=/dev/null', `--file=${file}`]
  const { code, output } = await run(join(await postgresPrograms(), 'psql'), [...wishes, databaseUrl])
  rmSync(file)
  if (code !== 0) throw new Stop(`The copy of the database could not be taken over: ${output.trim()}`)
}
