import { IsArray, IsInt, IsOptional, IsString } from 'class-validator'
import { eventKind, pathOf, type Sentence } from '#core/events/kind'
import { ListOf } from '#core/validate'

/** What stood in a property before and what stands there since, in words. */
export class PropertyChange {
  @IsString() property!: string
  @IsString() from!: string
  @IsString() to!: string
}

/** They sent an entry. What it says, stands in the entry; whoever tells of it puts that beside. */
export class EntrySent {
  @IsString() entry!: string
  /** The point's key. */
  @IsOptional() @IsString() key?: string
  /** The landing page that it came through, by its id. */
  @IsOptional() @IsString() landing?: string
  @IsOptional() @ListOf(() => PropertyChange) changed?: PropertyChange[]
  /** The words that they agreed to. */
  @IsOptional() @IsArray() @IsString({ each: true }) agreed?: string[]
  @IsOptional() @IsString() point?: string
  @IsOptional() @IsInt() edition?: number
  @IsOptional() @IsString() page?: string | null
  /** What somebody came to, of a quiz. */
  @IsOptional() @IsString() outcome?: string
}
export const entry = eventKind({
  payload: EntrySent,
  sentence: ({ point, edition, page, outcome }): Sentence => [
    outcome ? 'Finished ' : 'Filled in ',
    { strong: point ?? 'a form' },
    ...(outcome ? [' and came to ', { strong: outcome }] : []),
    ...(edition ? [' ', { faint: `edition ${edition}${page ? `, on ${pathOf(page)}` : ''}` }] : []),
  ],
  redacted: ({ entry, key, landing }) => ({ entry, ...(key && { key }), ...(landing && { landing }) }),
})
