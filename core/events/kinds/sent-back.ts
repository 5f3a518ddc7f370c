import { IsArray, IsIn, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** Why whoever was given a lead sends it back, as people choose it. */
export const SENT_BACK = ['too_early', 'wrong_person', 'cannot_reach', 'not_ours', 'no_budget', 'other'] as const
export type SentBackWhy = (typeof SENT_BACK)[number]
export const SENT_BACK_WORDS: Record<SentBackWhy, string> = {
  too_early: 'Too early to talk',
  wrong_person: 'Not somebody who decides',
  cannot_reach: 'Cannot be reached',
  not_ours: 'Not what we do',
  no_budget: 'Cannot afford it',
  other: 'Something else',
}

/** Whoever had the lead found it was not worth their time yet. What its score stood on counts against those rules. */
export class SentBack {
  @IsIn(SENT_BACK) why!: SentBackWhy
  @IsOptional() @IsString() words?: string
  /** Who had it. */
  @IsOptional() @IsString() owner!: string | null
  @IsOptional() @IsString() label!: string | null
  /** The rules of the scorecard that it had points by, by their keys. */
  @IsArray() @IsString({ each: true }) rules!: string[]
}
export const sentBack = eventKind({
  payload: SentBack,
  sentence: ({ why, words }, told): Sentence => [
    `${who(told)} sent them back: `,
    { strong: SENT_BACK_WORDS[why] },
    ...(words ? [' ', { faint: words }] : []),
  ],
  redacted: ({ words: _, ...payload }) => payload,
})
