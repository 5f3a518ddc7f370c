import { IsOptional, IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'
import { LeadFile } from '#core/files/lead-file'
import { ListOf } from '#core/validate'

/** One of us wrote them a mail. */
export class Wrote {
  @IsString() subject!: string
  @IsString() text!: string
  /** The delivery that takes it there. */
  @IsString() mail!: string
  @IsOptional() @ListOf(() => LeadFile) files?: LeadFile[]
}
export const wrote = eventKind({
  payload: Wrote,
  sentence: ({ subject }, told) => [`${who(told)} wrote them `, { strong: subject }],
  redacted: ({ mail }) => ({ mail, subject: '', text: '' }),
})
