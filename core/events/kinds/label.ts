import { IsIn, IsNumber, IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** Another label holds: the score made it, a point gave it, or none is left. */
export class Labelled {
  @IsOptional() @IsString() from!: string | null
  @IsOptional() @IsString() to!: string | null
  @IsIn(['score', 'point', 'person', 'none']) because!: 'score' | 'point' | 'person' | 'none'
  @IsNumber() fit!: number
  @IsNumber() interest!: number
}
/** What nobody did has to be said. */
const WHY: Record<string, string> = { due: 'as time went by: ', ruleset: 'by another scorecard: ' }

export const label = eventKind({
  payload: Labelled,
  sentence: ({ from, to, because, fit, interest }, { names, cause = '' }) => [
    'Label ',
    { strong: names.label(to) },
    from ? ` instead of ${names.label(from)} ` : ' ',
    {
      faint:
        because === 'point'
          ? 'given by the form'
          : because === 'person'
            ? 'set by one of us'
            : `${WHY[cause] ?? ''}fit ${fit}, interest ${interest}`,
    },
  ],
  redacted: payload => payload,
})
