import { IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { Theme, themeOf } from '#core/points/shapes/theme'
import { addStyle } from '#db/styles'
import { database } from '#server/database'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'
import { Nested } from '#core/validate'

class NewStyle {
  @IsString() @MaxLength(60) @Matches(/\S/, { message: 'Give the house style a name' }) name!: string
  @Nested(() => Theme) theme!: Theme
}

export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const { name, theme } = await readChecked(event, NewStyle)
  const id = newId()
  if (!(await addStyle(database(), { id, name: name.trim(), theme: themeOf(theme) })))
    throw problem(422, 'Another house style has this name.', [
      { field: 'name', message: 'Another house style has this name. Choose one that tells them apart.' },
    ])
  await changed({ styles: true })
  setResponseStatus(event, 201)
  return { id }
})
