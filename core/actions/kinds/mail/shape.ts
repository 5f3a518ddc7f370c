import { Equals, IsBoolean, IsInt, IsString, Max, MaxLength, Min } from 'class-validator'
import { ActionShape } from '#core/actions/shape'
import { GOALS, type Goal } from '#core/points/shapes/next'
import { ABOUT_ENTRY } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { ConditionAbout, Default, OneOf } from '#core/shapes'

/** A mail to whoever completes an entry, so many days later; 0 is at once. Texts may have placeholders. */
export class SendMail extends ActionShape {
  @Equals('mail') kind!: 'mail'
  @IsString() @MaxLength(200) subject!: string
  @IsString() @MaxLength(20_000) text!: string
  @IsInt() @Min(0) @Max(90) days!: number
  /** Where `{{link}}` leads; we see that it was followed. */
  @Default(null) @OneOf(GOALS) goal!: Goal | null
  /** Only to those who followed the link of no mail that came to them before through the same entry. */
  @Default(false) @IsBoolean() unlessClicked!: boolean

  /** Only where this holds of the lead and their answers. */
  @Default(null) @ConditionAbout(ABOUT_ENTRY) when!: Condition | null

  static tidy = (mail: SendMail): SendMail => ((mail.goal as { kind: string } | null)?.kind === 'message' ? { ...mail, goal: null } : mail)
}
