import { IsOptional, IsString, MaxLength } from 'class-validator'
import { defineEventHandler, getRouterParam, sendNoContent } from 'h3'
import { nameEdition } from '#db/points'
import { anyPoint } from '#server/capture/editing'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Naming {
  /** Nothing: it goes by its number alone. */
  @IsOptional() @IsString() @MaxLength(80, { message: 'A name has at most 80 letters.' }) name?: string | null
}

/** Calls an edition something. What it says stays as it was. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const { name } = await readChecked(event, Naming)
  const point = await anyPoint(event)
  const number = Number(getRouterParam(event, 'number'))
  if (
    !Number.isInteger(number) ||
    number < 1 ||
    number > 1_000_000 ||
    !(await nameEdition(database(), point.id, number, name?.trim() || null))
  )
    throw problem(404, 'There is no such edition.')
  await changed({ points: [point.id] })
  return sendNoContent(event)
})
