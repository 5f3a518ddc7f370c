import { IsInt, IsISO8601 } from 'class-validator'
import { defineEventHandler } from 'h3'
import { planGoingLive } from '#db/going-live'
import { applicationContext } from '#server/application-context'
import { anyPoint, changedMeanwhile, pointView, requireNoStops } from '#server/capture/editing'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class GoingLive {
  @IsInt() revision!: number
  @IsISO8601({ strict: true }) at!: string
}

const YEAR = 366 * 86_400_000

/** Lets the working copy, as it is now, go live by itself at a moment. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit points')
  const { revision, at } = await readChecked(event, GoingLive)
  const point = await anyPoint(event)
  if (point.revision !== revision) throw changedMeanwhile()
  const ahead = Date.parse(at) - Date.now()
  if (!(ahead > 0))
    throw problem(422, 'This moment is past. Choose one that is to come.', [
      { field: 'at', message: 'This moment is past. Choose one that is to come.' },
    ])
  if (ahead > YEAR)
    throw problem(422, 'This is more than a year ahead. Choose a nearer moment.', [
      { field: 'at', message: 'This is more than a year ahead. Choose a nearer moment.' },
    ])
  await requireNoStops(point)
  if (!(await planGoingLive(applicationContext().sql, { id: point.id, revision, at: new Date(at), by: member.id })))
    throw changedMeanwhile()
  await changed({ points: [point.id] })
  return pointView(await anyPoint(event))
})
