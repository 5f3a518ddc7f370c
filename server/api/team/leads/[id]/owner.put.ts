import { IsInt, IsOptional, IsString, IsUUID, Max, MaxLength, Min, ValidateIf } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class OwnerBody {
  /** null: nobody; it has to be said. */
  @ValidateIf((body: OwnerBody) => body.owner !== null) @IsUUID() owner!: string | null
  /** Who stood there for whoever did it. */
  @IsOptional() @IsUUID() was?: string | null
  /** What the one who gets it is told. */
  @IsOptional() @IsString() @MaxLength(600) words?: string
  /** They have to take it within so many working minutes, or it goes back. */
  @IsOptional() @IsInt() @Min(5) @Max(10_000) within?: number
}

export default defineEventHandler(event =>
  actOn(event, async () => {
    const { owner, was, words, within } = await readChecked(event, OwnerBody)
    return { do: 'owner', owner, words: words?.trim() ?? '', ...(was !== undefined && { was }), ...(within && { within }) }
  }),
)
