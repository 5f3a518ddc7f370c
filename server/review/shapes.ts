import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsUUID } from 'class-validator'

/** Entries that are judged together. */
export class SomeEntries {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one entry' })
  @ArrayMaxSize(200)
  @IsUUID('all', { each: true })
  @ArrayUnique()
  entries!: string[]
}
