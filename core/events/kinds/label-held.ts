import { IsIn, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'
import { HOLDS, type Hold } from '#core/scoring/label-held'

/** A label is held beside the score, or is not any more. */
export class LabelHolds {
  /** Null: it is let go. */
  @IsOptional() @IsString() label!: string | null
  /** The one that was held before, where that is told. */
  @IsOptional() @IsString() was?: string | null
  @IsOptional() @IsIn(HOLDS) how?: Hold
  /** ISO 8601; without: for good. */
  @IsOptional() @IsString() until?: string
  @IsOptional() @IsString() reason?: string
}
export const labelHeld = eventKind({
  payload: LabelHolds,
  sentence: ({ label, was, how, until, reason }, told): Sentence => {
    if (label === null || !how) {
      const name = { strong: told.names.label(was ?? label) }
      return told.actor ? [`${told.actor} lets the score decide again, instead of `, name] : [name, ' is held no longer: its time is over']
    }
    return [
      `${who(told)} set the label to ${how === 'fixed' ? 'exactly' : 'at least'} `,
      { strong: told.names.label(label) },
      ...(until ? [' until ', { moment: until }] : []),
      ...(reason ? [': ', reason] : []),
    ]
  },
  redacted: ({ label, was, how, until }) => ({ label, ...(was && { was }), ...(how && { how }), ...(until && { until }) }),
})
