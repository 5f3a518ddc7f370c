import { IsIn, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** Somebody else answers for them: the plan, a point or a member said so. */
export class Owned {
  @IsOptional() @IsString() from!: string | null
  @IsOptional() @IsString() to!: string | null
  @IsIn(['plan', 'point', 'person']) by!: 'plan' | 'point' | 'person'
  @IsOptional() @IsString() lane?: string
  @IsOptional() @IsString() point?: string
}
export const owner = eventKind({
  payload: Owned,
  sentence: ({ from, to, by, lane, point }, told): Sentence => {
    if (to === null) return [`${who(told)} took it from `, { strong: told.names.member(from) }, ': nobody answers for them']
    const name = { strong: told.names.member(to) }
    if (by === 'plan') return ['Routed to ', name, ' ', { faint: `lane “${lane}”, whose turn it was` }]
    if (by === 'point') return ['Given to ', name, ' ', { faint: `as the form “${point}” says` }]
    return [`${who(told)} gave it to `, name, ...(from ? [' ', { faint: `from ${told.names.member(from)}` }] : [])]
  },
  redacted: payload => payload,
})
