import { IsInt } from 'class-validator'
import { defineEventHandler } from 'h3'
import { pageStops } from '#core/pages/checks'
import { stops } from '#core/points/checks'
import { filesIn } from '#core/points/definition'
import { assetsKnown } from '#db/files'
import { otherNames, publish } from '#db/points'
import { anyPoint, changedMeanwhile, isPage, pageSurroundings, pointView, surroundings } from '#server/capture/editing'
import { fillKeys } from '#server/capture/keys'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Publish {
  @IsInt() revision!: number
}

/** Makes the working copy an edition and sets it live at once. */
export default defineEventHandler(async (event) => {
  const member = await memberOf(event, 'edit points')
  const { revision } = await readChecked(event, Publish)
  const { sql, cache } = applicationContext()
  const [point, ruleset] = await Promise.all([anyPoint(event), cache.ruleset()])
  if (point.revision !== revision) throw changedMeanwhile()
  const named = { name: point.name, otherNames: await otherNames(sql, point.id) }
  const found = isPage(point)
    ? pageStops(point.workingCopy, { ...await pageSurroundings(point.workingCopy), ...named })
    : stops(point.workingCopy, { ...surroundings(ruleset, await assetsKnown(sql, filesIn(point.workingCopy))), ...named })
  if (found.length) throw problem(422, `The ${point.kind} cannot go live yet; see the list.`, found.map(({ field, message }) => ({ field, message })))
  const number = await sql.begin(async (tx) => {
    const made = await publish(tx, { id: point.id, revision, edition: newId(), by: member.id, at: new Date() })
    if (made !== null && !isPage(point)) await fillKeys(tx, point.workingCopy.people.same)
    return made
  })
  if (number === null) throw changedMeanwhile()
  await changed({ points: [point.id] })
  return pointView(await anyPoint(event))
})
