import { IsNumber, Max, Min } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { saveNoteSetting } from '#db/notes'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Setting {
  @IsNumber() @Min(0.05) @Max(1) answersFrom!: number
  @IsNumber() @Min(0.05) @Max(1) asksFrom!: number
}

/** From which score on a note answers, and from which it is asked whether it was meant. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit notes')
  const setting = await readChecked(event, Setting)
  if (setting.asksFrom > setting.answersFrom)
    throw problem(422, 'It would ask what it answers already.', [
      { field: 'asksFrom', message: 'At most as much as what it answers from.' },
    ])
  await saveNoteSetting(database(), setting, new Date())
  await changed({ notes: true })
  return sendNoContent(event)
})
