import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class StatusBody {
  @IsString() @MaxLength(60) status!: string
}

export default defineEventHandler(event => actOn(event, async () => ({ do: 'status', status: (await readChecked(event, StatusBody)).status })))
