import { IsBoolean, IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { changeList } from '#db/lists'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class ListBody {
  @IsString() @MaxLength(60) @Matches(/\S/, { message: 'Give the list a name' }) name!: string
  @IsBoolean() removed!: boolean
}

/** Renames a list, takes it away, or brings it back with its people. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit segments')
  const { name, removed } = await readChecked(event, ListBody)
  const { sql } = applicationContext()
  const done = await changeList(sql, idFrom(event), { name: name.trim(), removed }, new Date())
  if (done === 'missing') throw problem(404, 'There is no such list.')
  if (done === 'taken')
    throw problem(422, 'Another list has this name.', [{ field: 'name', message: 'Another list has this name. Choose another.' }])
  await changed({ lists: true })
  return sendNoContent(event)
})
