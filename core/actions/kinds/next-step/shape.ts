import { Equals, IsInt, IsString, Length, Max, Min } from 'class-validator'
import { ActionForSome } from '#core/actions/shape'

/** The next step for a lead that has none, so many days later. */
export class SetNextStep extends ActionForSome {
  @Equals('next_step') kind!: 'next_step'
  @IsString() @Length(1, 200) text!: string
  @IsInt() @Min(0) @Max(365) days!: number
}
