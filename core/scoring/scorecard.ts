import {
  ArrayMaxSize,
  ArrayUnique,
  Equals,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator'
import { ABOUT_ACTIVITY, ABOUT_FIT } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import type { Flaw } from '#core/flaws'
import { ConditionBy, ConditionRequired, Default, read } from '#core/shapes'
import { DEED_KINDS, type DeedKind } from '#core/scoring/deeds'
import { ListOf, Nested } from '#core/validate'

const MOST_RULES = 200
const MOST_POINTS = 1000
const Name = (): PropertyDecorator => (target, field) =>
  [IsString(), Length(1, 200), Matches(/\S/, { message: 'This needs a text' })].forEach(rule => rule(target, field))
const Points = (): PropertyDecorator => (target, field) =>
  [IsNumber(), Min(-MOST_POINTS), Max(MOST_POINTS)].forEach(rule => rule(target, field))

class RuleShape {
  @Name() key!: string
  @Name() name!: string
  @Points() points!: number
  /** It stands there and gives nothing. */
  @Default(false) @IsBoolean() off?: boolean
  /** Among colleagues: why it is there. */
  @Default('') @IsString() @MaxLength(600) note?: string
  /** It counts from this moment on, and before that one. */
  @Default(null) @IsISO8601({ strict: true }) from?: string | null
  @Default(null) @IsISO8601({ strict: true }) until?: string | null
}
const whole = <T extends RuleShape>(rule: T): T => ({ ...rule, points: Math.trunc(rule.points) })

/** No more often than so many times in any so many days. */
export class Most {
  @IsInt() @Min(1) @Max(1000) times!: number
  @IsInt() @Min(1) @Max(365) days!: number
}
/** Rules of fit that together give no more than so much. */
export class FitGroup {
  @Name() key!: string
  @Name() name!: string
  @IsNumber() @Min(1) @Max(MOST_POINTS) most!: number
}

export class FitRule extends RuleShape {
  static tidy = whole<FitRule>
  @ConditionRequired(ABOUT_FIT) when!: Condition
  /** The key of the group that it belongs to. */
  @Default(null) @IsString() group?: string | null
}
export class InterestRule extends RuleShape {
  static tidy = whole<InterestRule>
  @IsIn(DEED_KINDS) on!: DeedKind
  @ConditionBy<InterestRule>(rule => ABOUT_ACTIVITY[rule.on]) when!: Condition | null
  @Default(null) @Nested(() => Most) most?: Most | null
}
/** A label asks for at least this much fit and interest. Lowest first. */
export class LabelRule {
  @Name() label!: string
  @Points() fit!: number
  @Points() interest!: number
}

/**
 * The rules that score a lead. Fit: points for who they are, counted once while
 * their condition holds. Interest: points for what they did, each fading with the half-life.
 */
export class Scorecard {
  @Equals(1, { message: 'This Cavlin reads scorecards of version 1' }) version!: 1
  /** Days after which a point of interest is worth half. */
  @IsNumber() @Min(0.25) @Max(3650) halfLifeDays!: number
  /** A label that holds falls only so many points under its line; without: at the line. */
  @IsOptional() @IsInt() @Min(0) @Max(50) margin?: number
  @ArrayMaxSize(MOST_RULES)
  @ArrayUnique((r: FitRule) => r?.key, { message: 'Two rules have the same key' })
  @ListOf(() => FitRule)
  fit!: FitRule[]
  @ArrayMaxSize(MOST_RULES)
  @ArrayUnique((r: InterestRule) => r?.key, { message: 'Two rules have the same key' })
  @ListOf(() => InterestRule)
  interest!: InterestRule[]
  @Default([])
  @ArrayMaxSize(MOST_RULES)
  @ArrayUnique((g: FitGroup) => g?.key, { message: 'Two groups have the same key' })
  @ListOf(() => FitGroup)
  groups?: FitGroup[]
  @ArrayMaxSize(MOST_RULES) @ListOf(() => LabelRule) labels!: LabelRule[]
}

/** Reads a scorecard out of an untrusted value. */
export function readScorecard(plain: unknown): { scorecard: Scorecard; flaws: [] } | { scorecard: null; flaws: Flaw[] } {
  const { value, flaws } = read(Scorecard, plain)
  return value ? { scorecard: value, flaws: [] } : { scorecard: null, flaws }
}
