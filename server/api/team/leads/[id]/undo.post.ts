import { IsInt, Max, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class UndoBody {
  /** The version of the event that is taken back, as the act answered it. */
  @IsInt() @Min(1) @Max(2_147_483_647) of!: number
}

export default defineEventHandler(event => actOn(event, async () => ({ do: 'undo', of: (await readChecked(event, UndoBody)).of })))
