import { defineEventHandler } from 'h3'
import type { SpeakerView } from '#core/team'
import { appearing } from '#db/appearing'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** The points that show by themselves on the site, in the order in which they speak. */
export default defineEventHandler(async (event): Promise<SpeakerView[]> => {
  await memberOf(event)
  return (await appearing(database())).map(({ id, key, name, definition }) => ({
    id,
    key,
    name,
    title: definition.title,
    display: definition.display,
  }))
})
