import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateBy,
  ValidateIf,
} from 'class-validator'
import { ABOUT_ANSWERS } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { FILE_FAMILIES, MOST_MEGABYTES, PLAIN_FILES, type FileFamily } from '#core/files/kinds'
import { LIMITS, ON_DIFFERENCE, QUESTION_KINDS, type OnDifference, type QuestionKind } from '#core/points/limits'
import { InQuiz, Meaning } from '#core/quiz/shapes'
import { ConditionAbout, Default, KEY } from '#core/shapes'
import { ListOf, Nested } from '#core/validate'

const IsLimit = () =>
  ValidateBy({
    name: 'isLimit',
    validator: {
      validate: (v: unknown) =>
        v === null ||
        v === undefined ||
        (typeof v === 'number' && Number.isFinite(v) && Math.abs(v) <= 1e12) ||
        (typeof v === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(v)),
      defaultMessage: () => 'A limit is a number, or a day like 2026-04-18',
    },
  })

/** A choice; its tag is set on whoever chooses it. */
export class Choice {
  @IsString() @Length(1, LIMITS.label) value!: string
  @IsString() @Length(1, LIMITS.label) text!: string
  @IsOptional() @IsString() @Length(1, 60) tag?: string
  /** In a quiz. */
  @IsOptional() @Nested(() => Meaning) quiz?: Meaning
}

/** Of text: characters. Of number: the number. Of money: whole units. Of date: ISO days. Of some-of and files: how many. `null`: no limit. */
export class Limits {
  @Default(null) @IsLimit() least!: number | string | null
  @Default(null) @IsLimit() most!: number | string | null
}

/** `fixed`: always this. `page`: the value of this parameter in the page's address (`?utm_campaign=`), else the value here. */
export class Hidden {
  @IsIn(['fixed', 'page']) from!: 'fixed' | 'page'
  @Default('') @IsString() @MaxLength(LIMITS.label) value!: string
  @Default('')
  @ValidateIf((h: Hidden) => h.from === 'page' && h.parameter !== '')
  @Matches(/^[\w.-]{1,60}$/, { message: 'A parameter’s name has letters, digits, points, hyphens and underscores, at most 60' })
  parameter!: string

  static tidy = (h: Hidden): Hidden => (h.from === 'page' ? h : { ...h, parameter: '' })
}

/** Which files are taken, and how large each. */
export class FileRules {
  @IsArray() @IsIn(FILE_FAMILIES, { each: true }) @ArrayUnique() accepts!: FileFamily[]
  @IsInt() @Min(1) @Max(MOST_MEGABYTES) megabytes!: number
}

export class Question {
  /** Stands for the question in entries: small letters, digits, underscores. */
  @Matches(KEY, { message: 'A question key has small letters, digits and underscores, begins with a letter, and has at most 50 of them' })
  key!: string
  @IsIn(QUESTION_KINDS, { message: `The kind must be one of ${QUESTION_KINDS.join(', ')}` }) kind!: QuestionKind
  /** What is asked; of a consent question the exact words that are agreed to. */
  @IsString() @MaxLength(LIMITS.label) label!: string
  @Default('') @IsString() @MaxLength(LIMITS.help) help!: string
  @Default('') @IsString() @MaxLength(LIMITS.placeholder) placeholder!: string
  @IsBoolean() required!: boolean
  /** Own text for an answer that is missing or does not fit. */
  @Default('') @IsString() @MaxLength(LIMITS.help) error!: string
  /** The property of the lead that the answer fills, or null when it stands alone. */
  @Default(null) @IsString() @Matches(/^[a-z][a-z0-9_]*$/) property!: string | null
  /** What the property does when it is known already and the new answer differs. */
  @Default('replace') @IsIn(ON_DIFFERENCE) onDifference!: OnDifference
  /** Of one-of and some-of questions. */
  @Default([]) @ArrayMaxSize(LIMITS.choices) @ListOf(() => Choice) choices!: Choice[]
  @Default({ least: null, most: null }) @Nested(() => Limits) limits!: Limits
  /** The answer that stands there from the start; '' for none. */
  @Default('') @IsString() @MaxLength(LIMITS.text) preset!: string
  /** Not asked: the answer is given by the marketer, or by the page the point stands on. */
  @Default(null) @Nested(() => Hidden) hidden!: Hidden | null
  /** Asked only if this holds of the answers before it: attributes `answer.<key>`. */
  @ConditionAbout(ABOUT_ANSWERS) shownIf!: Condition | null
  /** Begins a new page of the point. */
  @Default(false) @IsBoolean() newPage!: boolean
  /** Of a consent question: the mails that it allows. */
  @Default([]) @IsArray() @ArrayMaxSize(20) @Matches(KEY, { each: true }) @ArrayUnique() allows!: string[]
  /** Of a file question: which files, and how large; how many is in its limits, one if nothing is said. */
  @Default(PLAIN_FILES) @Nested(() => FileRules) files!: FileRules
  /** In a quiz. */
  @Default(null) @Nested(() => InQuiz) quiz!: InQuiz | null

  static tidy(q: Question): Question {
    const several = q.kind === 'one_of' || q.kind === 'some_of'
    const consents = q.kind === 'consent'
    return {
      ...q,
      property: consents ? null : q.property,
      allows: consents ? q.allows : [],
      files: q.kind === 'file' ? q.files : PLAIN_FILES,
      choices: several ? q.choices.map(({ tag, quiz, ...c }) => ({ ...c, ...(tag && { tag }), ...(quiz && { quiz }) })) : [],
    }
  }
}
