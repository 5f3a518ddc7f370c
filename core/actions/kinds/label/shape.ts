import { Equals, IsIn, IsInt, IsOptional, IsString, Length, Max, Min } from 'class-validator'
import { ActionForSome } from '#core/actions/shape'
import { HOLDS, type Hold } from '#core/scoring/label-held'

/** Gives a label, for good or for a time: a floor under what the scorecard says, or in its stead. */
export class GiveLabel extends ActionForSome {
  @Equals('label') kind!: 'label'
  @IsString() @Length(1, 60) label!: string
  /** At least this one, unless it is said that it is exactly. */
  @IsOptional() @IsIn(HOLDS) how?: Hold
  /** For so many days; without: for good. */
  @IsOptional() @IsInt() @Min(1) @Max(3650) days?: number | null
}
