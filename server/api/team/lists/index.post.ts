import { IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { addList } from '#db/lists'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class NewList {
  @IsString() @MaxLength(60) @Matches(/\S/, { message: 'Give the list a name' }) name!: string
}

export default defineEventHandler(async event => {
  await memberOf(event)
  const name = (await readChecked(event, NewList)).name.trim()
  const { sql } = applicationContext()
  const id = newId()
  if (!(await addList(sql, id, name)))
    throw problem(422, 'Another list has this name.', [
      { field: 'name', message: 'Another list has this name. Choose that one, or another name.' },
    ])
  await changed({ lists: true })
  setResponseStatus(event, 201)
  return { id, name }
})
