import { IsIn, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** Who was given a lead takes it, declines it, or has let the time for that pass. */
export class HandOverEnded {
  @IsIn(['accepted', 'declined', 'lapsed']) how!: 'accepted' | 'declined' | 'lapsed'
  @IsString() to!: string
  /** Whom it goes back to. */
  @IsOptional() @IsString() back!: string | null
  @IsOptional() @IsISO8601() until?: string
}
export const handOver = eventKind({
  payload: HandOverEnded,
  sentence: ({ how, to, back }, told): Sentence => {
    if (how === 'accepted') return [`${who(told)} took it`]
    const goes = back ? `it goes back to ${told.names.member(back)}` : 'nobody answers for them'
    return [how === 'declined' ? `${who(told)} did not take it: ${goes}` : `Not taken in time by ${told.names.member(to)}: ${goes}`]
  },
  redacted: payload => payload,
})
