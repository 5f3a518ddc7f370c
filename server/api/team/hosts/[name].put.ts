import { IsOptional, IsUUID } from 'class-validator'
import { defineEventHandler, getRouterParam, sendNoContent } from 'h3'
import { setFront } from '#db/hosts'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class HostBody {
  /** What stands at the bare address; null: nothing does. */
  @IsOptional() @IsUUID() front!: string | null
}

/** Chooses what is found at the bare address of a name. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit site')
  const { front } = await readChecked(event, HostBody)
  if (!(await setFront(database(), getRouterParam(event, 'name') ?? '', front ?? null))) {
    const message = 'There is no such name, or this does not stand under it.'
    throw problem(404, message, [{ field: 'front', message }])
  }
  await changed({ site: true })
  return sendNoContent(event)
})
