import { IsIn, IsObject, IsOptional, IsString, IsUUID, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { blankChat, CHAT_STARTERS } from '#core/chat/starters'
import { blankPage, type PageDefinition } from '#core/pages/definition'
import { PAGE_STARTERS } from '#core/pages/starters'
import { blankDefinition, type PointDefinition } from '#core/points/definition'
import { POINT_KINDS, type PointKind } from '#core/points/kinds'
import { readPointFile } from '#core/points/point-file'
import { fitted, STARTERS } from '#core/points/starters'
import { blankQuiz, QUIZ_STARTERS } from '#core/quiz/starters'
import { slugify } from '#core/text'
import { addPoint, anyById, freeSlug } from '#db/points'
import { applicationContext } from '#server/application-context'
import { newId, newKey } from '#server/ids'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { MOST_DEFINITION_BYTES, readChecked } from '#server/wire'

class NewPoint {
  @IsString() @MaxLength(120) @Matches(/\S/, { message: 'Give it a name, so that colleagues can tell it from the others' }) name!: string
  @IsOptional() @IsIn(POINT_KINDS) kind?: PointKind
  /** One of the starters, by its key. */
  @IsOptional() @IsString() @MaxLength(60) starter?: string
  /** Another point, to copy. */
  @IsOptional() @IsUUID() copyOf?: string
  /** A file that one was taken away as. */
  @IsOptional() @IsObject() file?: object
}

export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const wish = await readChecked(event, NewPoint, MOST_DEFINITION_BYTES)
  const name = wish.name.trim()
  const { sql } = applicationContext()
  const kind = wish.kind ?? 'form'
  const point = {
    id: newId(),
    key: newKey(kind),
    slug: await freeSlug(sql, slugify(name) || kind),
    name,
    kind,
    workingCopy: await beginning(wish, name),
  }
  await addPoint(sql, point)
  await changed({ points: [point.id] })
  setResponseStatus(event, 201)
  return { id: point.id }
})

async function beginning({ kind = 'form', starter, copyOf, file }: NewPoint, name: string): Promise<PointDefinition | PageDefinition> {
  const { sql, cache } = applicationContext()
  if (copyOf) {
    const other = await anyById(sql, copyOf)
    if (other?.kind !== kind)
      throw problem(422, `The ${kind} to copy is not there any more.`, [
        { field: 'copyOf', message: `The ${kind} to copy is not there any more. Choose another.` },
      ])
    return other.workingCopy
  }
  if (file) {
    const read = readPointFile(file)
    if (!read.file)
      throw problem(
        422,
        `This file cannot be brought in: ${read.flaws
          .slice(0, 3)
          .map(f => f.message)
          .join(' ')}`,
        read.flaws,
      )
    if (read.file.kind !== kind)
      throw problem(422, `This file is of a ${read.file.kind}, not of a ${kind}.`, [
        { field: 'file.kind', message: `Make a new ${read.file.kind} from it.` },
      ])
    return read.definition
  }
  if (!starter)
    return kind === 'page' ? blankPage(name) : kind === 'quiz' ? blankQuiz(name) : kind === 'chat' ? blankChat(name) : blankDefinition(name)
  const unknown = (known: { key: string }[]) =>
    problem(422, 'There is no such starter.', [
      { field: 'starter', message: `Choose one of ${known.map(s => s.key).join(', ')}, or none.` },
    ])
  if (kind === 'page') {
    const page = PAGE_STARTERS.find(s => s.key === starter)
    if (!page) throw unknown(PAGE_STARTERS)
    return page.page
  }
  const starters = { form: STARTERS, quiz: QUIZ_STARTERS, chat: CHAT_STARTERS }[kind]
  const found = starters.find(s => s.key === starter)
  if (!found) throw unknown(starters)
  return fitted(
    found.definition,
    (await cache.ruleset()).properties.filter(p => !p.retired).map(p => p.key),
  )
}
