import { IsArray, IsBoolean, IsOptional, IsString, ArrayMaxSize } from 'class-validator'
import { defineEventHandler } from 'h3'
import { leadsKnown } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { bringIn } from '#server/lists/import'
import { readTable } from '#server/lists/table'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

const MOST_BYTES = 4 * 1024 * 1024
const SHOWN = 5

class Import {
  @IsString() csv!: string
  /** Which property each column fills; left out, the headers tell. */
  @IsOptional() @IsArray() @ArrayMaxSize(200) columns?: (string | null)[]
  /** Whether what is known already gives way. */
  @IsBoolean() replace!: boolean
  /** Only look: nothing is kept. */
  @IsBoolean() dryRun!: boolean
}

/** People of a table come on a list; tried first, then done. */
export default defineEventHandler(async (event) => {
  const me = await memberOf(event, 'edit segments')
  const body = await readChecked(event, Import, MOST_BYTES)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const list = ruleset.lists.find(l => l.id === idFrom(event))
  if (!list) throw problem(404, 'There is no such list.')
  const { columns, people, flaws } = readTable(body.csv, body.columns ?? null, ruleset)
  const told = { columns, people: people.length, flaws: flaws.slice(0, 50), wrong: flaws.length }
  if (body.dryRun) {
    const known = await leadsKnown(sql, people.map(p => p.emailKey))
    return { ...told, fresh: people.length - known, known, some: people.slice(0, SHOWN).map(({ email, values }) => ({ email, values })) }
  }
  if (!people.length) throw problem(422, 'Nobody in this table can be taken in.', flaws.slice(0, 50).map(f => ({ field: `line ${f.line}`, message: f.message })))
  const { fresh, known, leads } = await bringIn(sql, ruleset, list, people, body.replace, me.id, Date.now())
  await changed({ leads, lists: true })
  return { ...told, fresh, known, some: [] }
})
