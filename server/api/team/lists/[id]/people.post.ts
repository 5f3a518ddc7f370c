import { IsArray, IsBoolean, IsIn, IsOptional, IsString, ArrayMaxSize } from 'class-validator'
import { defineEventHandler } from 'h3'
import { ROW_COUNTS, type RowCounts } from '#core/lists/people'
import { may } from '#core/roles'
import { leadsKnown } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { bringIn } from '#server/lists/import'
import { readTable } from '#server/lists/table'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

const MOST_BYTES = 4 * 1024 * 1024
const MOST_FLAWS = 50

class Import {
  @IsString() csv!: string
  /** Which property each column fills; left out, the headers tell. */
  @IsOptional() @IsArray() @ArrayMaxSize(200) columns?: (string | null)[]
  /** Which row counts of those with the same address. */
  @IsOptional() @IsIn(ROW_COUNTS) rows?: RowCounts
  /** Whether what is known already gives way. */
  @IsBoolean() replace!: boolean
  /** Who is to answer for those of whom nobody does: `nobody`, `plan`, or a member's id. */
  @IsOptional() @IsString() owners?: string
  /** Only look: nothing is kept. */
  @IsBoolean() dryRun!: boolean
}

/** People of a table come on a list; tried first, then done. */
export default defineEventHandler(async event => {
  const me = await memberOf(event, 'edit segments')
  const body = await readChecked(event, Import, MOST_BYTES)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const list = ruleset.lists.find(l => l.id === idFrom(event))
  if (!list) throw problem(404, 'There is no such list.')
  const owners = ownersOf(body.owners ?? 'nobody', ruleset)
  const { columns, examples, people, flaws, repeats } = readTable(body.csv, body.columns ?? null, ruleset, body.rows)
  const told = {
    columns,
    examples,
    people: people.length,
    flaws: flaws.slice(0, MOST_FLAWS),
    wrong: flaws.length,
    repeats: repeats.slice(0, MOST_FLAWS),
    repeated: repeats.length,
  }
  if (body.dryRun) {
    const known = await leadsKnown(
      sql,
      people.map(p => p.emailKey),
    )
    return { ...told, fresh: people.length - known, known }
  }
  if (!people.length) {
    const fields = flaws.slice(0, MOST_FLAWS).map(f => ({ field: `line ${f.line}`, message: f.message }))
    throw problem(422, 'Nobody in this table can be taken in.', fields)
  }
  const came = await bringIn(sql, ruleset, list, people, { replace: body.replace, owners }, me.id, Date.now())
  await changed({ leads: came.leads, lists: true, ...(came.told.length && { notices: came.told }) })
  return { ...told, id: came.id, fresh: came.fresh, known: came.known }
})

/** @throws 422 when nobody who works leads is meant */
function ownersOf(owners: string, { members }: Ruleset): string {
  if (owners === 'nobody' || owners === 'plan') return owners
  const member = members.get(owners)
  if (member && may(member.role, 'work leads')) return owners
  throw problem(422, 'Whom shall they be given to?', [{ field: 'owners', message: 'Choose somebody who works with leads.' }])
}
