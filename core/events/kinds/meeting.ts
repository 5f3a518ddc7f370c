import { IsInt, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, type Sentence } from '#core/events/kind'

/** They chose a time to meet, or another one. */
export class MeetingChosen {
  @IsISO8601() at!: string
  @IsInt() minutes!: number
  @IsOptional() @IsString() with!: string | null
  @IsOptional() @IsISO8601() was?: string
}
export const meeting = eventKind({
  payload: MeetingChosen,
  sentence: (m, { names }): Sentence => [
    `${m.was ? 'Moved the meeting' : 'Chose a time to meet'}${m.with ? ` ${names.member(m.with)}` : ''}: `,
    { moment: m.at },
    ' ',
    { faint: `${m.minutes} minutes` },
    ...(m.was ? [{ faint: ', before: ' }, { moment: m.was }] : []),
  ],
  redacted: payload => payload,
})
