import { IsBoolean } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class AcceptBody {
  @IsBoolean() accepts!: boolean
}

export default defineEventHandler(event =>
  actOn(event, async () => ({ do: 'accept', accepts: (await readChecked(event, AcceptBody)).accepts })),
)
