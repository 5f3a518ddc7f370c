import 'reflect-metadata'
import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsBoolean, IsIn, IsInt, IsObject, IsOptional, IsString, Length, Matches, Max, MaxLength, Min, ValidateIf } from 'class-validator'
import { MOMENTS, PLACEMENTS, type DisplayRules, type Moment, type Period, type Placement, type Rest } from '#core/appearing/definition'
import { readCondition } from '#core/conditions/condition'
import { ABOUT_PAGE, ABOUT_VISITOR, type Askable } from '#core/conditions/askable'
import { ListOf, Nested } from '#core/validate'

const DAY = { message: 'A day is written like 2026-04-18' }
const COUNTED = ['seconds', 'scrolled', 'pages', 'idle']

class MomentShape {
  @IsIn(MOMENTS) kind!: Moment['kind']
  @ValidateIf((m: MomentShape) => COUNTED.includes(m.kind)) @IsInt() @Min(0) @Max(86_400) n?: number
  @ValidateIf((m: MomentShape) => m.kind === 'click' || m.kind === 'event') @IsString() @Length(1, 200) what?: string
}
class PeriodShape implements Period {
  @ValidateIf((p: Period) => p.from !== null) @Matches(/^\d{4}-\d{2}-\d{2}$/, DAY) from!: string | null
  @ValidateIf((p: Period) => p.until !== null) @Matches(/^\d{4}-\d{2}-\d{2}$/, DAY) until!: string | null
  @IsArray() @ArrayUnique() @IsInt({ each: true }) @Min(1, { each: true }) @Max(7, { each: true }) days!: number[]
  @ValidateIf((p: Period) => p.hours !== null) @IsArray() @ArrayMinSize(2) @ArrayMaxSize(2) @IsInt({ each: true }) @Min(0, { each: true }) @Max(24, { each: true }) hours!: [number, number] | null
}
class RestShape implements Rest {
  @IsInt() @Min(0) @Max(3650) closed!: number
  @ValidateIf((r: Rest) => r.answered !== null) @IsInt() @Min(0) @Max(3650) answered!: number | null
  @IsInt() @Min(1) @Max(50) perVisit!: number
}
/** An appearance as it comes from outside. */
export class DisplayRulesShape {
  @IsBoolean() on!: boolean
  @IsIn(PLACEMENTS) placement!: Placement
  @IsIn(['start', 'end']) side!: 'start' | 'end'
  @IsString() @MaxLength(400) invitation!: string
  @IsString() @MaxLength(60) open!: string
  @IsOptional() @IsObject() pages?: object | null
  @IsOptional() @IsObject() except?: object | null
  @ArrayMaxSize(8) @ListOf(() => MomentShape) moments!: MomentShape[]
  @IsIn(['any', 'all']) together!: 'any' | 'all'
  @IsOptional() @IsObject() audience?: object | null
  @Nested(() => PeriodShape) period!: PeriodShape
  @Nested(() => RestShape) rest!: RestShape
  @IsBoolean() small!: boolean
}

/** @throws TypeError naming the field, when a condition cannot be read */
export function readDisplayRules(a: DisplayRulesShape, path: string): DisplayRules {
  const condition = (raw: object | null | undefined, field: string, askable: Askable) => raw ? readCondition(raw, `${path}.${field}`, askable) : null
  return {
    on: a.on, placement: a.placement, side: a.side, invitation: a.invitation, open: a.open, pages: condition(a.pages, 'pages', ABOUT_PAGE), except: condition(a.except, 'except', ABOUT_PAGE),
    moments: a.moments.map(({ kind, n, what }) => (kind === 'leaving' ? { kind } : COUNTED.includes(kind) ? { kind, n: n! } : { kind, what: what! }) as Moment),
    together: a.together, audience: condition(a.audience, 'audience', ABOUT_VISITOR),
    period: { from: a.period.from, until: a.period.until, days: [...a.period.days].sort(), hours: a.period.hours },
    rest: { closed: a.rest.closed, answered: a.rest.answered, perVisit: a.rest.perVisit }, small: a.small,
  }
}
