import { ArrayUnique, IsArray, IsIn } from 'class-validator'
import { defineEventHandler } from 'h3'
import { TOLD, type Told } from '#core/telling/telling'
import { setInsists } from '#db/telling'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class InsistsBody {
  @IsArray() @ArrayUnique() @IsIn(TOLD, { each: true, message: `Choose among ${TOLD.join(', ')}` }) insists!: Told[]
}

/** What everybody is told at once, whatever they wish. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  const { insists } = await readChecked(event, InsistsBody)
  await setInsists(applicationContext().sql, insists)
  await changed({ colleagues: true })
  return { insists }
})
