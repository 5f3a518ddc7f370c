import {
  ArrayMaxSize,
  ArrayUnique,
  Equals,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator'
import { ABOUT_ANSWERS } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { LIMITS } from '#core/points/limits'
import { Mark, SentFile } from '#core/points/shapes/theme'
import {
  CONTACTS,
  MOST_BANDS,
  MOST_RESULTS,
  MOST_TOPICS,
  MOST_WEIGHT,
  MOST_WISHES,
  QUIZ_KINDS,
  SAYS,
  SHOWS,
  SHUFFLES,
} from '#core/quiz/limits'
import { ConditionAbout, Default, KEY, OneOf } from '#core/shapes'
import { ListOf, Nested } from '#core/validate'

/** How much a choice speaks for an outcome. */
export class Weight {
  @Matches(KEY) to!: string
  @IsInt() @Min(-MOST_WEIGHT) @Max(MOST_WEIGHT) n!: number
}

/** What a choice means in a quiz. */
export class Meaning {
  @Default(false) @IsBoolean() right!: boolean
  /** Said to who chose it. */
  @Default('') @IsString() @MaxLength(LIMITS.help) said!: string
  @Default([]) @ArrayMaxSize(MOST_RESULTS) @ArrayUnique((w: Weight) => w?.to) @ListOf(() => Weight) weights!: Weight[]
  @Default(null) @Nested(() => Mark) picture!: Mark | null
}

/** Numbers that mean the same: those up to and with `upTo` that no band before holds; null: all that are left. */
export class Band {
  @Matches(KEY) key!: string
  @Default(null) @IsNumber() @Min(-1e12) @Max(1e12) upTo!: number | null
  @Default({ right: false, said: '', weights: [], picture: null }) @Nested(() => Meaning) quiz!: Meaning
}

/** Where a quiz goes on after a question, instead of with the next one. */
export class Branch {
  /** Null: always. */
  @ConditionAbout(ABOUT_ANSWERS) when!: Condition | null
  /** The key of a later question; '' for the end. */
  @IsString() @MaxLength(50) to!: string
}

/** What a question is in a quiz. */
export class InQuiz {
  /** Marks for the right answer; 0: it scores nothing. */
  @Default(0) @IsInt() @Min(0) @Max(1_000_000) points!: number
  @Default(null) @Matches(KEY) topic!: string | null
  /** Said of it whatever was answered. */
  @Default('') @IsString() @MaxLength(LIMITS.help) said!: string
  @Default('list') @IsIn(SHOWS) as!: (typeof SHOWS)[number]
  @Default([]) @ArrayMaxSize(MOST_BANDS) @ArrayUnique((b: Band) => b?.key) @ListOf(() => Band) bands!: Band[]
  @Default([]) @ArrayMaxSize(20) @ListOf(() => Branch) then!: Branch[]
  /** Asks who it is; stands with the others that do. */
  @Default(false) @IsBoolean() contact!: boolean
}

class GoToAddress {
  @Equals('address') kind!: 'address'
  @IsString() @MaxLength(2000) address!: string
}
class GetFile {
  @Equals('file') kind!: 'file'
  @Default(null) @Nested(() => SentFile) file!: SentFile | null
}
class NoCall {
  @Equals('none') kind!: 'none'
}
class MeetOwner {
  @Equals('meeting') kind!: 'meeting'
  @IsInt() @Min(10) @Max(240) minutes!: number
  @IsInt() @Min(1) @Max(60) days!: number
}
class GoToPoint {
  @Equals('point') kind!: 'point'
  /** The key of a form, quiz or page of ours. */
  @IsString() @MaxLength(60) point!: string
}
/** What a result calls for: nothing, another address, a file of ours, a meeting with the owner, something else of ours. */
export const CALLS = { none: NoCall, address: GoToAddress, file: GetFile, meeting: MeetOwner, point: GoToPoint }
export type Call = NoCall | GoToAddress | GetFile | MeetOwner | GoToPoint

/** What people come to: an outcome, or what is said to those who reached at least a share of the marks. */
export class Result {
  @Matches(KEY) key!: string
  @IsString() @MaxLength(LIMITS.title) title!: string
  @Default('') @IsString() @MaxLength(LIMITS.text) text!: string
  @Default(null) @Nested(() => Mark) picture!: Mark | null
  /** Of marks: from so many hundredths on. */
  @Default(0) @IsInt() @Min(0) @Max(100) from!: number
  @Default('') @IsString() @MaxLength(LIMITS.button) button!: string
  @Default({ kind: 'none' }) @OneOf(CALLS) call!: Call
}

/** What marks are counted by, beside all together. */
export class Topic {
  @Matches(KEY) key!: string
  @IsString() @Length(1, 80) name!: string
}

/** Somebody made up, and the outcome that they should get: weights are suggested by such people, and checked against them. */
export class Described {
  @Matches(KEY) key!: string
  @IsString() @Length(1, 80) name!: string
  /** By the keys of questions; what is not there is not answered. */
  @IsObject() answers!: Record<string, string | string[]>
  @Matches(KEY) outcome!: string

  /** Answers are texts, or lists of texts; anything else goes. */
  static tidy = (d: Described): Described => ({
    ...d,
    answers: Object.fromEntries(
      Object.entries(d.answers)
        .filter(
          ([key, a]) =>
            key.length <= 50 &&
            (typeof a === 'string'
              ? a.length <= LIMITS.label
              : Array.isArray(a) && a.length <= LIMITS.choices && a.every(x => typeof x === 'string' && x.length <= LIMITS.label)),
        )
        .slice(0, LIMITS.questions),
    ),
  })
}

/** What makes a quiz of a form: what is made of the answers, and how it is asked. */
export class Quiz {
  @IsIn(QUIZ_KINDS) kind!: (typeof QUIZ_KINDS)[number]
  /** Outcomes in the order that decides ties; or bands of marks. */
  @ArrayMaxSize(MOST_RESULTS)
  @ArrayUnique((r: Result) => r?.key, { message: 'Two results have the same key' })
  @ListOf(() => Result)
  results!: Result[]
  @Default([]) @ArrayMaxSize(MOST_TOPICS) @ArrayUnique((t: Topic) => t?.key) @ListOf(() => Topic) topics!: Topic[]
  /** Of several right answers each counts a part, less what is ticked wrongly, and never under nothing. */
  @Default(true) @IsBoolean() partial!: boolean
  @Default('end') @IsIn(SAYS) says!: (typeof SAYS)[number]
  @Default('before') @IsIn(CONTACTS) contact!: (typeof CONTACTS)[number]
  /** Who does not say who they are gets the result all the same, and is nobody. */
  @Default(false) @IsBoolean() skip!: boolean
  /** Above the contact questions. */
  @Default('') @IsString() @MaxLength(LIMITS.help) reason!: string
  @Default(true) @IsBoolean() progress!: boolean
  @Default(true) @IsBoolean() back!: boolean
  /** One question a page. */
  @Default(true) @IsBoolean() single!: boolean
  @Default('none') @IsIn(SHUFFLES) shuffle!: (typeof SHUFFLES)[number]
  @Default(true) @IsBoolean() again!: boolean
  /** The result can be shown to others, on a page that says nothing of who came to it. */
  @Default(true) @IsBoolean() share!: boolean
  @Default([]) @ArrayMaxSize(MOST_WISHES) @ArrayUnique((d: Described) => d?.key) @ListOf(() => Described) described!: Described[]
}
