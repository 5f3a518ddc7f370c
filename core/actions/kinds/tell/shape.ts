import { ArrayMaxSize, ArrayUnique, Equals, IsArray, IsString, IsUUID, MaxLength } from 'class-validator'
import { ActionShape } from '#core/actions/shape'
import { ABOUT_ENTRY } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { ConditionAbout } from '#core/shapes'

/** Tells colleagues beside the owner, where the condition holds of the lead and their answers. Subject and text may have placeholders. */
export class TellColleagues extends ActionShape {
  @Equals('tell') kind!: 'tell'
  @IsArray() @ArrayMaxSize(20) @IsUUID(undefined, { each: true }) @ArrayUnique() members!: string[]
  @ConditionAbout(ABOUT_ENTRY) when!: Condition | null
  @IsString() @MaxLength(200) subject!: string
  @IsString() @MaxLength(4000) text!: string
}
