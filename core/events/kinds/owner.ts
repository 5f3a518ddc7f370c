import { IsIn, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** Somebody else answers for them: the plan, a point or a member said so. */
export class Owned {
  @IsOptional() @IsString() from!: string | null
  @IsOptional() @IsString() to!: string | null
  @IsIn(['plan', 'point', 'person']) by!: 'plan' | 'point' | 'person'
  @IsOptional() @IsString() lane?: string
  @IsOptional() @IsString() point?: string
  /** How the lane found them; of earlier days none: by turns. */
  @IsOptional() @IsString() way?: string
  /** What the giver says to the one who gets it. */
  @IsOptional() @IsString() words?: string
  /** The member whose place they take. */
  @IsOptional() @IsString() standsInFor?: string
}
const WHY: Record<string, string> = {
  turns: 'whose turn it was',
  least_open: 'who had least open work',
  firm_owner: 'who owns others of the firm',
  earlier_owner: 'who had it before',
}

export const owner = eventKind({
  payload: Owned,
  sentence: ({ from, to, by, lane, point, way, standsInFor, words }, told): Sentence => {
    if (to === null) return [`${who(told)} took it from `, { strong: told.names.member(from) }, ': nobody answers for them']
    const name = { strong: told.names.member(to) }
    if (by === 'plan') {
      const instead = standsInFor ? `, for ${told.names.member(standsInFor)}, who is away` : ''
      return ['Routed to ', name, ' ', { faint: `lane “${lane}”, ${instead ? `who stands in${instead}` : (WHY[way ?? ''] ?? WHY.turns)}` }]
    }
    if (by === 'point') return ['Given to ', name, ' ', { faint: `as the form “${point}” says` }]
    return [
      `${who(told)} gave it to `,
      name,
      ...(from ? [' ', { faint: `from ${told.names.member(from)}` }] : []),
      ...(words ? [`: “${words}”`] : []),
    ]
  },
  redacted: ({ words: _, ...payload }) => payload,
})
