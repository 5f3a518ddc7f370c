import { IsInt } from 'class-validator'
import { defineEventHandler } from 'h3'
import { publish } from '#db/points'
import { anyPoint, changedMeanwhile, isPage, pointView, requireNoStops } from '#server/capture/editing'
import { fillKeys } from '#server/capture/keys'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Publish {
  @IsInt() revision!: number
}

/** Makes the working copy an edition and sets it live at once. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit points')
  const { revision } = await readChecked(event, Publish)
  const { sql } = applicationContext()
  const point = await anyPoint(event)
  if (point.revision !== revision) throw changedMeanwhile()
  await requireNoStops(point)
  const number = await sql.begin(async tx => {
    const made = await publish(tx, { id: point.id, revision, edition: newId(), by: member.id, at: new Date() })
    if (made !== null && !isPage(point)) await fillKeys(tx, point.workingCopy.people.same)
    return made
  })
  if (number === null) throw changedMeanwhile()
  await changed({ points: [point.id] })
  return pointView(await anyPoint(event))
})
