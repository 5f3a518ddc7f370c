import { defineEventHandler, sendNoContent } from 'h3'
import { absenceOf, removeAbsence } from '#db/members'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { maySetAway } from '#server/routing/absences'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Somebody is not away after all. */
export default defineEventHandler(async event => {
  const by = await memberOf(event)
  const absence = await absenceOf(database(), idFrom(event))
  if (!absence) throw problem(404, 'This is not there any more.')
  maySetAway(by, absence.memberId)
  await removeAbsence(database(), absence.id)
  await changed({ colleagues: true })
  return sendNoContent(event)
})
