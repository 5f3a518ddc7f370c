import { IsIn, IsInt, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** They chose a time to meet, or another one; or one of us moved it. */
export class MeetingChosen {
  @IsISO8601() at!: string
  @IsInt() minutes!: number
  @IsOptional() @IsString() with!: string | null
  @IsOptional() @IsISO8601() was?: string
  /** Left out: they chose it themselves. */
  @IsOptional() @IsIn(['us']) by?: 'us'
  /** What was said with it. */
  @IsOptional() @IsString() words?: string
}
export const meeting = eventKind({
  payload: MeetingChosen,
  sentence: (m, told): Sentence => [
    `${m.by ? `${who(told)} moved the meeting` : m.was ? 'Moved the meeting' : 'Chose a time to meet'}${m.with ? ` ${m.by ? 'with ' : ''}${told.names.member(m.with)}` : ''}: `,
    { moment: m.at },
    ' ',
    { faint: `${m.minutes} minutes` },
    ...(m.was ? [{ faint: ', before: ' }, { moment: m.was }] : []),
    ...(m.words ? [' ', { faint: m.words }] : []),
  ],
  redacted: ({ words: _, ...payload }) => payload,
})
