import {
  ArrayMaxSize,
  ArrayUnique,
  Equals,
  IsArray,
  IsBoolean,
  IsInt,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator'
import { FLOW_LIMITS } from '#core/chat/limits'
import { ABOUT_ENTRY } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { Mark } from '#core/points/shapes/theme'
import { ConditionRequired, Default, KEY, KEY_MESSAGE, ListOfKinds, read } from '#core/shapes'
import type { Flaw } from '#core/flaws'
import { ListOf, Nested } from '#core/validate'

/** The key of the step that follows, or nothing: the conversation rests there. */
const Follows = (): PropertyDecorator => (target, field) => {
  Default(null)(target, field)
  Matches(KEY, { message: KEY_MESSAGE })(target, field)
}
const Said = (): PropertyDecorator => (target, field) => {
  Default('')(target, field)
  IsString()(target, field)
  MaxLength(FLOW_LIMITS.text)(target, field)
}

abstract class StepShape {
  @Matches(KEY, { message: KEY_MESSAGE }) key!: string
}

/** Something to press, and where it leads. */
export class Offer {
  @IsString() @Length(1, FLOW_LIMITS.choice) text!: string
  @Follows() to!: string | null
}
/** Says something; with choices it waits until one is taken. `then` follows without choices, and after words that are none of them. */
export class SayStep extends StepShape {
  @Equals('say') kind!: 'say'
  @Said() text!: string
  @Default(null) @Nested(() => Mark) picture!: Mark | null
  @Default([]) @ArrayMaxSize(FLOW_LIMITS.choices) @ListOf(() => Offer) choices!: Offer[]
  @Follows() then!: string | null
}

/** Where an answer leads that others do not lead to. */
export class OnAnswer {
  @IsString() @Length(1, 600) value!: string
  @Follows() to!: string | null
}
/** Asks a question of the point, in words of its own if it has any. */
export class AskStep extends StepShape {
  @Equals('ask') kind!: 'ask'
  @Matches(KEY, { message: KEY_MESSAGE }) question!: string
  @Said() text!: string
  /** Says what was understood, and asks whether it is right. */
  @Default(false) @IsBoolean() readBack!: boolean
  @Default([])
  @ArrayMaxSize(FLOW_LIMITS.ways)
  @ArrayUnique((w: OnAnswer) => w?.value, { message: 'An answer leads to two places' })
  @ListOf(() => OnAnswer)
  ways!: OnAnswer[]
  @Follows() then!: string | null
}

/** Does what the point has among its actions, and takes the answers as an entry where it says so. */
export class DoStep extends StepShape {
  @Equals('do') kind!: 'do'
  /** By the keys of the point's actions. */
  @Default([]) @IsArray() @ArrayMaxSize(20) @ArrayUnique() @Matches(KEY, { each: true }) actions!: string[]
  @Default(false) @IsBoolean() entry!: boolean
  @Follows() then!: string | null
}

export class If {
  @ConditionRequired(ABOUT_ENTRY) when!: Condition
  @Follows() to!: string | null
}
/** Goes the first way whose condition holds of the person and the answers so far; otherwise `then`. */
export class BranchStep extends StepShape {
  @Equals('branch') kind!: 'branch'
  @Default([]) @ArrayMaxSize(FLOW_LIMITS.ways) @ListOf(() => If) ways!: If[]
  @Follows() then!: string | null
}

/** Asks what they would like to know, and looks for it in the notes; `otherwise` when no note answers it. */
export class LookUpStep extends StepShape {
  @Equals('look_up') kind!: 'look_up'
  @Said() text!: string
  @Follows() then!: string | null
  @Follows() otherwise!: string | null
}

/** Offers free times of the owner; `otherwise` when there is none, or none suits. */
export class MeetStep extends StepShape {
  @Equals('meet') kind!: 'meet'
  @Said() text!: string
  @IsInt() @Min(10) @Max(240) minutes!: number
  @IsInt() @Min(1) @Max(60) days!: number
  @Follows() then!: string | null
  @Follows() otherwise!: string | null
}

/** Hands the conversation to a person: whose turn it is by the plan, the people of one of its lanes, or a member by their id; `otherwise` when nobody is there. */
export class HandOverStep extends StepShape {
  @Equals('hand_over') kind!: 'hand_over'
  @Said() text!: string
  @Default('plan')
  @Matches(/^(plan|pool\.\S{1,200}|[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12})$/, {
    message: 'This is “plan”, a lane of the plan as “pool.KEY”, or the id of a member',
  })
  to!: string
  @Follows() otherwise!: string | null
}

/** The conversation is over. */
export class EndStep extends StepShape {
  @Equals('end') kind!: 'end'
  @Said() text!: string
  /** Asks how it was. */
  @Default(true) @IsBoolean() rating!: boolean
}

export const STEP_SHAPES = {
  say: SayStep,
  ask: AskStep,
  do: DoStep,
  branch: BranchStep,
  look_up: LookUpStep,
  meet: MeetStep,
  hand_over: HandOverStep,
  end: EndStep,
}
export type Step = { [K in keyof typeof STEP_SHAPES]: InstanceType<(typeof STEP_SHAPES)[K]> }[keyof typeof STEP_SHAPES]
export type StepOf<K extends Step['kind']> = Extract<Step, { kind: K }>

/** What a chat says and asks, and in which order: steps, and what follows each. */
export class Flow {
  @Follows() start!: string | null
  @Default([])
  @ArrayMaxSize(FLOW_LIMITS.steps)
  @ArrayUnique((s: Step) => s?.key, { message: 'Two steps have the same key' })
  @ListOfKinds(STEP_SHAPES)
  steps!: Step[]
}

/** Reads a flow out of an untrusted value: its shape, not whether it may go live (see `checks.ts`). */
export const readFlow = (plain: unknown): { value: Flow; flaws: [] } | { value: null; flaws: Flaw[] } => read(Flow, plain)
