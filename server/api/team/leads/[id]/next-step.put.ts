import { IsBoolean, IsISO8601, IsOptional, IsRFC3339, IsString, Matches, MaxLength, ValidateIf } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

const WHEN = 'Say when it is due, as a date and time'

class NextStepBody {
  /** null takes the step away. */
  @ValidateIf(b => b.text !== null) @IsString() @MaxLength(300) @Matches(/\S/, { message: 'Say what the next step is' }) text!: string | null
  @ValidateIf(b => b.text !== null) @IsRFC3339({ message: WHEN }) @IsISO8601({ strict: true }, { message: WHEN }) due?: string
  @IsOptional() @IsBoolean() done?: boolean
}

export default defineEventHandler(event => actOn(event, async () => {
  const { text, due, done } = await readChecked(event, NextStepBody)
  return { do: 'next_step', step: text === null ? null : { text: text.trim(), due: new Date(due!) }, done }
}))
