import { IsInt, IsObject, IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import type { Flaw } from '#core/flaws'
import type { PageDefinition } from '#core/pages/definition'
import { readPage } from '#core/pages/schema'
import { kindOf, type PointDefinition } from '#core/points/definition'
import type { PointKind } from '#core/points/kinds'
import { readDefinition } from '#core/points/shapes/definition'
import { saveWorkingCopy } from '#db/points'
import { anyPoint, changedMeanwhile, isPage } from '#server/capture/editing'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { MOST_DEFINITION_BYTES, readChecked } from '#server/wire'

class WorkingCopy {
  @IsInt() revision!: number
  @IsString() @MaxLength(120) @Matches(/\S/, { message: 'Give it a name, so that colleagues can tell it from the others' }) name!: string
  @IsObject() definition!: object
}

export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const body = await readChecked(event, WorkingCopy, MOST_DEFINITION_BYTES)
  const point = await anyPoint(event)
  const { read, flaws }: { read: PointDefinition | PageDefinition | null; flaws: Flaw[] } = isPage(point)
    ? pageOf(body.definition)
    : formOf(body.definition)
  if (read && !isPage(point) && kindOf(read as PointDefinition) !== point.kind) flaws.push(otherKind(point.kind, read as PointDefinition))
  if (!read || flaws.length)
    throw problem(
      422,
      `Something in the ${point.kind} cannot be kept; see the list.`,
      flaws.map(f => ({ ...f, field: `definition.${f.field}` })),
    )
  const revision = await saveWorkingCopy(database(), point.id, body.revision, body.name.trim(), read)
  if (revision === null) throw changedMeanwhile()
  await say(database(), { drafts: [point.id] })
  return { revision }
})

const otherKind = (kind: PointKind, read: PointDefinition): Flaw => {
  if (kind === 'quiz') return { field: 'quiz', message: 'A quiz says what is made of the answers.' }
  if (kind === 'chat') return { field: 'chat', message: 'A chat says what it asks, and in which order.' }
  return { field: kindOf(read), message: `A form is no ${kindOf(read)}. Make a ${kindOf(read)} instead.` }
}
const formOf = (plain: unknown) => {
  const { definition, flaws } = readDefinition(plain)
  return { read: definition, flaws }
}
const pageOf = (plain: unknown) => {
  const { page, flaws } = readPage(plain)
  return { read: page, flaws }
}
