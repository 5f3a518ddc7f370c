import { defineEventHandler, sendNoContent } from 'h3'
import { LookShape, readLook } from '#core/points/schema'
import { changeStyle } from '#db/styles'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'
import { Nested } from '#core/validate'

class StyleLook {
  @Nested(() => LookShape) look!: LookShape
}

/** Changes a house style: all points that follow it look so at once, the live ones too. */
export default defineEventHandler(async (event) => {
  await memberOf(event, 'edit points')
  const { look } = await readChecked(event, StyleLook)
  const { sql, cache } = applicationContext()
  if (!await changeStyle(sql, idFrom(event), readLook(look))) throw problem(404, 'There is no such house style.')
  cache.forget()
  await say(sql, { ruleset: true })
  return sendNoContent(event)
})
