import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  Equals,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsString,
  Length,
  Matches,
  Max,
  Min,
} from 'class-validator'
import { ABOUT_PERSON } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import type { Flaw } from '#core/flaws'
import { ConditionAbout, Default, read } from '#core/shapes'
import { isPlain, ListOf, Nested } from '#core/validate'

/**
 * How a lane finds who gets a lead: whose turn it is, by shares; who has least open work, by shares; whoever owns others of the
 * same firm; whoever owned this lead before. The last two know nobody for most leads, who then go on to the next lane.
 */
export const WAYS = ['turns', 'least_open', 'firm_owner', 'earlier_owner'] as const
export type Way = (typeof WAYS)[number]
/** Ways that find the person by themselves: such a lane has no people of its own. */
export const FINDS: ReadonlySet<Way> = new Set<Way>(['firm_owner', 'earlier_owner'])

/**
 * What happens outside the working hours of a lane's people: it gives all the same; it gives to who is at work, or goes on to the
 * next lane; it waits until the first of them begins.
 */
export const OUTSIDE = ['anyway', 'present', 'waits'] as const
export type Outside = (typeof OUTSIDE)[number]

/** Somebody's place in a lane. Of two who are there, one with twice the share gets twice as many. */
export class Seat {
  @IsString() @Length(1, 200) member!: string
  @Default(1) @IsInt() @Min(1) @Max(100) share!: number
}

/** The most a promise can be: a working year. */
export const MOST_PROMISE = 100_000

export class Lane {
  @IsString() @Length(1, 200) key!: string
  @IsString() @Length(1, 200) @Matches(/\S/, { message: 'Each lane needs a name' }) name!: string
  /** null only on the last lane: it takes whoever is left. */
  @ConditionAbout(ABOUT_PERSON) when!: Condition | null
  @Default('turns') @IsIn(WAYS, { message: 'This is no way to find somebody' }) way!: Way
  /** In the order of their turns. */
  @ArrayMaxSize(1000)
  @ArrayUnique((seat: Seat) => seat?.member, { message: 'Each person stands in a lane once' })
  @ListOf(() => Seat)
  pool!: Seat[]
  @Default('anyway') @IsIn(OUTSIDE, { message: 'A lane waits, gives to who is at work, or gives anyway' }) outside!: Outside
  /** Only to who speaks the language in which they wrote, as far as somebody does. */
  @Default(false) @IsBoolean() speaks!: boolean
  /** What leads of this lane are promised, by label, in working minutes; of other labels, what the label promises. */
  @Default({}) @IsObject() promises!: Record<string, number>
  /** Who nobody answers in time goes on to somebody else of the lane. */
  @Default(false) @IsBoolean() onward!: boolean
}

/** At which share of a promise, in percent, its owner is told that it runs out, then who manages, and when the lead goes on. */
export class Low {
  @Default(60) @IsInt() @Min(1) @Max(1000) owner!: number
  @Default(100) @IsInt() @Min(1) @Max(1000) manager!: number
  @Default(150) @IsInt() @Min(1) @Max(1000) onward!: number
}

/** What follows from calls that reach nobody: after how many working minutes the next is tried, call by call. */
export class Tries {
  @Default([120, 600, 1800])
  @IsInt({ each: true })
  @Min(1, { each: true })
  @Max(MOST_PROMISE, { each: true })
  @ArrayMaxSize(20)
  ladder!: number[]
  /** A try stops the clock, though nobody was reached. */
  @Default(false) @IsBoolean() count!: boolean
}
export const LOW: Low = { owner: 60, manager: 100, onward: 150 }
export const TRIES: Tries = { ladder: [120, 600, 1800], count: false }

/** The ordered lanes that give a lead an owner. The last one always catches. */
export class RoutingPlan {
  static upgrade = upgraded
  @Equals(2, { message: 'This Cavlin reads plans of version 1 and 2' }) version!: 2
  @ArrayMinSize(1, { message: 'A plan has 1 to 100 lanes' })
  @ArrayMaxSize(100)
  @ArrayUnique((lane: Lane) => lane?.key, { message: 'Each lane needs a key of its own' })
  @ListOf(() => Lane)
  lanes!: Lane[]
  @Default(LOW) @Nested(() => Low) low!: Low
  @Default(TRIES) @Nested(() => Tries) tries!: Tries
}

/** Plans of version 1 had pools of members who took turns, at any hour. */
function upgraded(plain: unknown): unknown {
  if (!isPlain(plain) || plain.version !== 1 || !Array.isArray(plain.lanes)) return plain
  const seat = (member: unknown) => (typeof member === 'string' ? { member, share: 1 } : member)
  const lanes = plain.lanes.map((lane: unknown) =>
    isPlain(lane) && Array.isArray(lane.pool) ? { ...lane, pool: [...new Set(lane.pool)].map(seat) } : lane,
  )
  return { ...plain, version: 2, lanes }
}

/** Reads a plan out of an untrusted value. A pool may be empty in a working copy; what goes live is checked (`planChecks`). */
export function readPlan(plain: unknown): { plan: RoutingPlan; flaws: [] } | { plan: null; flaws: Flaw[] } {
  const { value, flaws } = read(RoutingPlan, plain)
  if (!value) return { plan: null, flaws }
  const wrong = value.lanes.findIndex((lane, i) => (lane.when === null) !== (i === value.lanes.length - 1))
  if (wrong >= 0)
    return {
      plan: null,
      flaws: [{ field: `lanes.${wrong}.when`, message: 'The last lane, and only that, takes everyone and has no condition.' }],
    }
  const finds = value.lanes.length - 1
  if (FINDS.has(value.lanes[finds]!.way))
    return { plan: null, flaws: [{ field: `lanes.${finds}.way`, message: 'The last lane catches everybody: it needs people of its own.' }] }
  const { owner, manager, onward } = value.low
  if (owner > manager || manager > onward)
    return {
      plan: null,
      flaws: [
        {
          field: 'low',
          message: 'The owner is told first, then who manages, and then a lead goes on: no share may be less than the one before.',
        },
      ],
    }
  const promised = value.lanes.flatMap((lane, i) => {
    const bad = Object.entries(lane.promises).find(([, minutes]) => !Number.isInteger(minutes) || minutes < 1 || minutes > MOST_PROMISE)
    return bad
      ? [
          {
            field: `lanes.${i}.promises.${bad[0]}`,
            message: `A promise is from 1 to ${MOST_PROMISE.toLocaleString('en')} working minutes.`,
          },
        ]
      : []
  })
  return promised.length ? { plan: null, flaws: promised } : { plan: value, flaws: [] }
}

/** A plan without lanes: leads have no owner, and nobody is told. */
export const NO_PLAN: RoutingPlan = { version: 2, lanes: [], low: LOW, tries: TRIES }
