import { ArrayMaxSize, ArrayUnique, Equals, IsArray, IsUUID } from 'class-validator'
import { ActionForSome } from '#core/actions/shape'

/** Puts them on lists, by their ids. */
export class PutOnLists extends ActionForSome {
  @Equals('list') kind!: 'list'
  @IsArray() @ArrayMaxSize(20) @IsUUID(undefined, { each: true }) @ArrayUnique() lists!: string[]
}
