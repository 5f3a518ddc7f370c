import { ArrayMaxSize, IsArray, IsOptional, IsString, IsUUID, Matches, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { MOST_LEAD_FILES } from '#core/files/lead-file'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class NoteBody {
  @IsString() @MaxLength(20_000) @Matches(/\S/, { message: 'The note is empty. Write what was said' }) text!: string
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_LEAD_FILES, { message: `At most ${MOST_LEAD_FILES} files go along` })
  @IsUUID('all', { each: true })
  files?: string[]
}

/** Writes something down about a lead. Colleagues who are named in it (`@` and their name) are told. */
export default defineEventHandler(event => actOn(event, async () => ({ do: 'note', ...(await readChecked(event, NoteBody)) })))
