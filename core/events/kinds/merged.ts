import { IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'
import type { PropertyValue } from '#core/properties/kinds'
import { IsTextOrTexts, ListOf } from '#core/validate'

/** Something that the one that was kept has from the other: a property, the owner, the status or the next step. */
export class TakenOver {
  @IsString() what!: string
  @IsOptional() @IsTextOrTexts() was!: PropertyValue | null
  @IsTextOrTexts() now!: PropertyValue
}

/** Another lead was found to be the same person, and went into this one. */
export class Merged {
  /** The other one's id and name. */
  @IsString() lead!: string
  @IsString() name!: string
  @ListOf(() => TakenOver) taken!: TakenOver[]
}

const CALLED: Record<string, string> = { owner: 'owner', status: 'status', next_step: 'next step' }

export const merged = eventKind({
  payload: Merged,
  sentence: ({ name, taken }, told): Sentence => [
    `${who(told)} joined this lead with `,
    { strong: name },
    ...(taken.length ? [' ', { faint: `from there: ${taken.map(t => CALLED[t.what] ?? told.names.property(t.what)).join(', ')}` }] : []),
  ],
  redacted: ({ lead }) => ({ lead, name: 'somebody', taken: [] }),
})
