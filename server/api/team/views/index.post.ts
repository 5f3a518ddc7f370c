import { defineEventHandler, setResponseStatus } from 'h3'
import { NewView } from '#core/follow-up/views'
import { addView } from '#db/views'
import { database } from '#server/database'
import { newId } from '#server/ids'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

/** Keeps a view of the table: for oneself, or for everybody. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const { name, query, columns, shared } = await readChecked(event, NewView)
  const id = newId()
  if (!(await addView(database(), { id, member: shared ? null : member.id, name: name.trim(), query, columns, by: member.id })))
    throw problem(422, 'A view has this name already, or there are too many.', [
      { field: 'name', message: 'Choose another name, or remove a view.' },
    ])
  await say(database(), { lists: true })
  setResponseStatus(event, 201)
  return { id }
})
