import { IsArray, IsOptional, IsString, IsUUID } from 'class-validator'
import { eventKind, who } from '#core/events/kind'
import { LeadFile } from '#core/files/lead-file'
import { ListOf } from '#core/validate'

/** Somebody of us wrote something down. */
export class Noted {
  @IsOptional() @IsString() text?: string
  /** Members who are named in it, and were told. */
  @IsOptional() @IsArray() @IsUUID('all', { each: true }) mentions?: string[]
  @IsOptional() @ListOf(() => LeadFile) files?: LeadFile[]
}
export const note = eventKind({
  payload: Noted,
  sentence: (_, told) => [{ faint: `${who(told)} noted` }],
  redacted: ({ mentions }) => ({ ...(mentions && { mentions }) }),
})
