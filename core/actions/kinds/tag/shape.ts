import { ArrayMaxSize, ArrayUnique, Equals, IsArray, IsString, Length } from 'class-validator'
import { ActionShape } from '#core/actions/shape'

/** Puts tags on. */
export class PutTags extends ActionShape {
  @Equals('tag') kind!: 'tag'
  @IsArray() @ArrayMaxSize(20) @IsString({ each: true }) @Length(1, 60, { each: true }) @ArrayUnique() tags!: string[]
}
