import { IsIn, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'
import { CALL_RESULTS, type CallResult } from '#core/follow-up/state'

/** One of us called them. */
export class Called {
  @IsIn(CALL_RESULTS) result!: CallResult
  @IsOptional() @IsString() text?: string
}
const WORDS: Record<CallResult, Sentence> = {
  reached: ['called and ', { strong: 'reached' }, ' them'],
  left_message: ['called and ', { strong: 'left a message' }],
  not_reached: ['called and did ', { strong: 'not reach' }, ' them'],
  wrong_number: ['called: the number is ', { strong: 'wrong' }],
}
export const call = eventKind({
  payload: Called,
  sentence: ({ result }, told) => [`${who(told)} `, ...WORDS[result]],
  redacted: ({ result }) => ({ result }),
})
