import { ArrayMaxSize, ArrayUnique, Equals, IsArray, IsString, Length } from 'class-validator'
import { ActionForSome } from '#core/actions/shape'

/** Puts tags on. */
export class PutTags extends ActionForSome {
  @Equals('tag') kind!: 'tag'
  @IsArray() @ArrayMaxSize(20) @IsString({ each: true }) @Length(1, 60, { each: true }) @ArrayUnique() tags!: string[]
}
