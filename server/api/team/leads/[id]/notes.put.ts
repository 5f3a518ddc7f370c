import { IsOptional, IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class NoteChange {
  /** The note, as its line in the timeline names it. */
  @IsString()
  @Matches(/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12} \d{1,9}$/, { message: 'Say which note, as the timeline names it' })
  of!: string
  /** Null: it is removed. */
  @IsOptional() @IsString() @MaxLength(20_000) @Matches(/\S/, { message: 'The note is empty. Write something, or remove it' }) text!:
    string | null
  /** What stood there; null: it was removed. */
  @IsOptional() @IsString() @MaxLength(20_000) was!: string | null
}

/** Who wrote a note writes it anew, or removes it. */
export default defineEventHandler(event =>
  actOn(event, async () => {
    const { of, text, was } = await readChecked(event, NoteChange)
    return { do: 'note_changed', of, text: text ?? null, was: was ?? null }
  }),
)
