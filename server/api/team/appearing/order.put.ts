import { ArrayMaxSize, ArrayUnique, IsArray, IsUUID } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { setOrder } from '#db/appearing'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Order {
  @IsArray() @ArrayMaxSize(500) @ArrayUnique() @IsUUID(undefined, { each: true }) points!: string[]
}

/** Which point speaks first, where several could at the same moment. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const { points } = await readChecked(event, Order)
  await setOrder(database(), points)
  await changed({ appearing: true })
  return sendNoContent(event)
})
