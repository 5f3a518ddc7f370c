import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsOptional,
  IsRFC3339,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator'
import { defineEventHandler } from 'h3'
import { EVERY, STEP_KINDS, type Every, type StepKind } from '#core/follow-up/state'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

const WHEN = 'Say when it is due, as a date and time'

class NextStepBody {
  /** null takes the step away. */
  @ValidateIf(b => b.text !== null) @IsString() @MaxLength(300) @Matches(/\S/, { message: 'Say what the next step is' }) text!:
    string | null
  @ValidateIf(b => b.text !== null) @IsRFC3339({ message: WHEN }) @IsISO8601({ strict: true }, { message: WHEN }) due?: string
  @IsOptional() @IsBoolean() done?: boolean
  /** What stood there for whoever did it. */
  @IsOptional() @IsString() @MaxLength(300) was?: string | null
  @IsOptional() @IsIn(STEP_KINDS) kind?: StepKind
  /** Minutes before it is due. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(5)
  @ArrayUnique()
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(60 * 24 * 30, { each: true })
  remind?: number[]
  @IsOptional() @IsIn(EVERY) every?: Every
  /** What came of the one that is done. */
  @IsOptional() @IsString() @MaxLength(600) outcome?: string
}

export default defineEventHandler(event =>
  actOn(event, async () => {
    const { text, due, done, was, kind, remind, every, outcome } = await readChecked(event, NextStepBody)
    const step =
      text === null
        ? null
        : { text: text.trim(), due: new Date(due!), kind: kind ?? 'other', ...(remind && { remind }), ...(every && { every }) }
    return { do: 'next_step', step, done, ...(was !== undefined && { was }), ...(outcome?.trim() && { outcome: outcome.trim() }) }
  }),
)
