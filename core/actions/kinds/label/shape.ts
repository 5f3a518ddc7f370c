import { Equals, IsString, Length } from 'class-validator'
import { ActionForSome } from '#core/actions/shape'

/** Gives a label: a floor under what the scorecard says. */
export class GiveLabel extends ActionForSome {
  @Equals('label') kind!: 'label'
  @IsString() @Length(1, 60) label!: string
}
