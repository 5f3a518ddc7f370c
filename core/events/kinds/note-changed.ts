import { IsOptional, IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** Whoever wrote a note wrote it anew, or took it away. */
export class NoteChanged {
  /** The note, by its lead and version: `<lead> <version>`. */
  @IsString() of!: string
  /** What it says now; missing: it was taken away. */
  @IsOptional() @IsString() text?: string
}
export const noteChanged = eventKind({
  payload: NoteChanged,
  sentence: ({ text }, told) => [{ faint: text === undefined ? `${who(told)} removed a note` : `${who(told)} changed a note` }],
  redacted: ({ of }) => ({ of }),
})
