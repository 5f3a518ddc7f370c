import { IsIn, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** A meeting does not take place: they said so, or one of us did. */
export class CalledOff {
  @IsISO8601() at!: string
  @IsOptional() @IsString() with!: string | null
  @IsIn(['them', 'us']) by!: 'them' | 'us'
  /** What was said with it. */
  @IsOptional() @IsString() words?: string
}
export const calledOff = eventKind({
  payload: CalledOff,
  sentence: (m, told): Sentence => [
    m.by === 'us' ? `${who(told)} called the meeting off: ` : 'Called the meeting off: ',
    { moment: m.at },
    ...(m.words ? [' ', { faint: m.words }] : []),
  ],
  redacted: ({ words: _, ...payload }) => payload,
})
