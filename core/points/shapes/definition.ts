import { ArrayMaxSize, ArrayUnique, Equals, IsArray, IsIn, IsString, IsUUID, MaxLength } from 'class-validator'
import { Chat } from '#core/chat/chat'
import { ACTION_SHAPES, type Action } from '#core/actions/shapes'
import { NOWHERE } from '#core/appearing/nowhere'
import { DisplayRules } from '#core/appearing/schema'
import type { Flaw } from '#core/flaws'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { ALWAYS_OPEN, ANY_SITE, EVERYBODY, HOUSE_MAILING, HOUSE_THEME, NO_RETURNS } from '#core/points/defaults'
import { LIMITS, MOST_ACTIONS, MOST_VARIANTS } from '#core/points/limits'
import { NEXTS, type Next } from '#core/points/shapes/next'
import { Question } from '#core/points/shapes/question'
import { Closing, Confirmation, Guards, Mailing, PeopleRules, Reminder, Returns, Translation, Variant } from '#core/points/shapes/rules'
import { Theme } from '#core/points/shapes/theme'
import { DEFINITION_VERSION, upgraded } from '#core/points/upgrade'
import { complete, Default, ListOfKinds, OneOf, read } from '#core/shapes'
import { Quiz } from '#core/quiz/shapes'
import { ListOf, Nested } from '#core/validate'

/**
 * What a point asks and says, as it is stored: versioned, so that it can grow.
 * `checks.ts` tells what keeps one from going live.
 */
export class PointDefinition {
  static upgrade = upgraded
  @Equals(DEFINITION_VERSION, { message: `This Cavlin reads point definitions up to version ${DEFINITION_VERSION}` })
  version!: typeof DEFINITION_VERSION
  /** The language of its texts; what is ours speaks it too. */
  @Default('en') @IsIn(LANGUAGE_KEYS) language!: Language
  @IsString() @MaxLength(LIMITS.title) title!: string
  @Default('') @IsString() @MaxLength(LIMITS.text) intro!: string
  @IsArray()
  @ArrayMaxSize(LIMITS.questions)
  @ArrayUnique((q: Question) => q?.key, { message: 'Two questions have the same key' })
  @ListOf(() => Question)
  questions!: Question[]
  @IsString() @MaxLength(LIMITS.button) button!: string
  @IsString() @MaxLength(LIMITS.text) thanks!: string
  @Default(HOUSE_THEME) @Nested(() => Theme) theme!: Theme
  /** The house style that the theme follows, by its id; `theme` is then what it looked like when this was saved. */
  @Default(null) @IsUUID() houseStyle!: string | null
  /** What is done to and for whoever completes it. */
  @Default([])
  @ArrayMaxSize(MOST_ACTIONS)
  @ArrayUnique((a: Action) => a?.key, { message: 'Two actions have the same key' })
  @ListOfKinds(ACTION_SHAPES)
  actions!: Action[]
  @Default(EVERYBODY) @Nested(() => PeopleRules) people!: PeopleRules
  @Default({ kind: 'message' }) @OneOf(NEXTS) next!: Next
  @Default(NO_RETURNS) @Nested(() => Returns) returns!: Returns
  @Default(ALWAYS_OPEN) @Nested(() => Closing) closing!: Closing
  @Default(ANY_SITE) @Nested(() => Guards) guards!: Guards
  /** Where and when it shows by itself on the site. */
  @Default(NOWHERE) @Nested(() => DisplayRules) display!: DisplayRules
  @Default(null) @Nested(() => Confirmation) confirm!: Confirmation | null
  @Default(HOUSE_MAILING) @Nested(() => Mailing) mailing!: Mailing
  @Default(null) @Nested(() => Reminder) reminder!: Reminder | null
  /** Other variants that are tried beside its own. */
  @Default([])
  @ArrayMaxSize(MOST_VARIANTS - 1)
  @ArrayUnique((w: Variant) => w?.key, { message: 'Two wordings have the same key' })
  @ListOf(() => Variant)
  variants!: Variant[]
  /** Its texts in other languages. */
  @Default([])
  @ArrayMaxSize(LANGUAGE_KEYS.length - 1)
  @ArrayUnique((t: Translation) => t?.key, { message: 'Two translations are in the same language' })
  @ListOf(() => Translation)
  translations!: Translation[]
  /** What makes a quiz of it, or a chat; a form has neither. */
  @Default(null) @Nested(() => Quiz) quiz!: Quiz | null
  @Default(null) @Nested(() => Chat) chat!: Chat | null
}

/**
 * Reads a definition out of an untrusted value: shape, limits and kinds, not
 * whether it may go live (see `checks`). What may be left out gets its default.
 */
export function readDefinition(plain: unknown): { definition: PointDefinition; flaws: [] } | { definition: null; flaws: Flaw[] } {
  const { value, flaws } = read(PointDefinition, plain)
  return value ? { definition: value, flaws: [] } : { definition: null, flaws }
}

/** A stored definition of an earlier day with what has come since. It was checked when it was stored. */
export const completed = (stored: unknown): PointDefinition => complete(PointDefinition, stored)
