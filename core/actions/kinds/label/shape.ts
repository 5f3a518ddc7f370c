import { Equals, IsString, Length } from 'class-validator'
import { ActionShape } from '#core/actions/shape'

/** Gives a label: a floor under what the scorecard says. */
export class GiveLabel extends ActionShape {
  @Equals('label') kind!: 'label'
  @IsString() @Length(1, 60) label!: string
}
