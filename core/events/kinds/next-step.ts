import { IsBoolean, IsIn, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'
import { STEP_KINDS, type StepKind } from '#core/follow-up/state'

/** Something else is to be done next, or nothing any more. */
export class NextStepSet {
  @IsOptional() @IsString() text!: string | null
  @IsOptional() @IsISO8601() due!: string | null
  @IsOptional() @IsString() was?: string
  @IsOptional() @IsBoolean() done?: boolean
  @IsOptional() @IsIn(STEP_KINDS) kind?: StepKind
  /** What came of the one before. */
  @IsOptional() @IsString() outcome?: string
}
export const nextStep = eventKind({
  payload: NextStepSet,
  sentence: ({ text, due, was, done, outcome }, told): Sentence => {
    const came = outcome ? [`: ${outcome}`] : []
    const did = done ? [`${who(told)} did “${was ?? 'what was next'}”`, ...came] : []
    if (text === null) return done ? did : [`${who(told)} took away “${was ?? 'what was next'}”`]
    const then = [{ strong: text }, ...(due ? [', ', { moment: due }] : [])]
    if (done) return [...did, '; again: ', ...then]
    return [told.actor === null ? 'The form asks for ' : `${told.actor} will `, ...then]
  },
  redacted: () => ({ text: null, due: null }),
})
