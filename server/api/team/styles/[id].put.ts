import { defineEventHandler, sendNoContent } from 'h3'
import { Theme, themeOf } from '#core/points/shapes/theme'
import { changeStyle } from '#db/styles'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'
import { Nested } from '#core/validate'

class StyleTheme {
  @Nested(() => Theme) theme!: Theme
}

/** Changes a house style: all points that follow it theme so at once, the live ones too. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const { theme } = await readChecked(event, StyleTheme)
  const { sql } = applicationContext()
  if (!(await changeStyle(sql, idFrom(event), themeOf(theme)))) throw problem(404, 'There is no such house style.')
  await changed({ styles: true })
  return sendNoContent(event)
})
