import { IsUUID } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class OwnerBody {
  @IsUUID() owner!: string
}

export default defineEventHandler(event => actOn(event, async () => ({ do: 'owner', owner: (await readChecked(event, OwnerBody)).owner })))
