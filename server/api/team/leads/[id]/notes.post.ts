import { IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class NoteBody {
  @IsString() @MaxLength(20_000) @Matches(/\S/, { message: 'The note is empty. Write what was said' }) text!: string
}

export default defineEventHandler(event => actOn(event, async () => ({ do: 'note', text: (await readChecked(event, NoteBody)).text })))
