import { IsIn, IsInt, IsOptional, IsString, Max, Min } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

const WHAT = ['answered', 'ended', 'rated'] as const
const RATED = ['poor', 'not so good', 'fine', 'good', 'very good']

/** What happened in a conversation of theirs: one of us answered first, it ended, they said how it was. */
export class Talked {
  /** The conversation. */
  @IsString() talk!: string
  /** What the chat is called. */
  @IsString() point!: string
  @IsIn(WHAT) what!: (typeof WHAT)[number]
  @IsOptional() @IsInt() @Min(1) @Max(5) rating?: number
  @IsOptional() @IsString() words?: string
}
export const talked = eventKind({
  payload: Talked,
  sentence: ({ point, what, rating, words }, told): Sentence => {
    if (what === 'answered') return [`${who(told)} answered them in `, { strong: point }]
    if (what === 'ended') return ['A conversation ended in ', { strong: point }]
    return ['Found the conversation in ', { strong: point }, ` ${RATED[(rating ?? 3) - 1]}`, ...(words ? [' ', { faint: words }] : [])]
  },
  redacted: ({ words: _, ...payload }) => payload,
})
