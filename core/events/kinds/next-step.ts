import { IsBoolean, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** Something else is to be done next, or nothing any more. */
export class NextStepSet {
  @IsOptional() @IsString() text!: string | null
  @IsOptional() @IsISO8601() due!: string | null
  @IsOptional() @IsString() was?: string
  @IsOptional() @IsBoolean() done?: boolean
}
export const nextStep = eventKind({
  payload: NextStepSet,
  sentence: ({ text, due, was, done }, told): Sentence => {
    if (text === null) return [`${who(told)} ${done ? 'did' : 'took away'} “${was ?? 'what was next'}”`]
    return [told.actor === null ? 'The form asks for ' : `${told.actor} will `, { strong: text }, ...(due ? [', ', { moment: due }] : [])]
  },
  redacted: () => ({ text: null, due: null }),
})
