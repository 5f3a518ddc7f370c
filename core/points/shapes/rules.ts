import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsString,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { BY_EMAIL } from '#core/identity/same-person'
import { CHALLENGES, LIMITS } from '#core/points/limits'
import { CONFIRMED, type Confirmed } from '#core/points/shapes/next'
import { ABOUT_ENTRY } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { ConditionMaybe, Default, KEY, OneOf } from '#core/shapes'
import { ListOf } from '#core/validate'

/** What happens to people this point knows or does not know yet. */
export class PeopleRules {
  /** Who is known already: change as the questions say, only fill gaps, or leave what is known. */
  @Default('update') @IsIn(['update', 'fill', 'leave']) known!: 'update' | 'fill' | 'leave'
  /** Who is new: becomes a lead, or the entry is held for somebody to look at, or it is refused. */
  @Default('create') @IsIn(['create', 'hold', 'refuse']) unknown!: 'create' | 'hold' | 'refuse'
  /** The property, or the pair of them, that makes somebody the same person to this point. An address that they give is theirs in any case. */
  @Default(BY_EMAIL) @IsArray() @ArrayMinSize(1) @ArrayMaxSize(2) @Matches(KEY, { each: true }) @ArrayUnique() same!: string[]
  /** What those read who are refused; '' for our words. */
  @Default('') @IsString() @MaxLength(LIMITS.text) refusal!: string
}

/** What a visitor may do after an entry, through signed links: correct it, enter again. */
export class Returns {
  @IsBoolean() correct!: boolean
  @IsBoolean() again!: boolean
}

/** When a point takes entries, and what those see who come too early or too late. */
export class Closing {
  /** Moments as ISO 8601 with zone, or null for no bound: open from `from`, and until before `until`. */
  @ValidateIf(c => c.from !== null) @IsISO8601({ strict: true }) from!: string | null
  @ValidateIf(c => c.until !== null) @IsISO8601({ strict: true }) until!: string | null
  /** After so many complete entries it is full. */
  @ValidateIf(c => c.entries !== null) @IsInt() @Min(1) @Max(10_000_000) entries!: number | null
  /** What visitors read instead of the form; '' for our words. */
  @IsString() @MaxLength(LIMITS.text) text!: string
  /** The same, before it is open and when it is full; '' for the words above. */
  @Default('') @IsString() @MaxLength(LIMITS.text) early!: string
  @Default('') @IsString() @MaxLength(LIMITS.text) full!: string
}

export class Guards {
  /** The sites that entries may come from, as origins (`https://firm.example`). Empty: any. */
  @Default([]) @IsArray() @ArrayMaxSize(50) @IsString({ each: true }) @MaxLength(300, { each: true }) @ArrayUnique() origins!: string[]
  /** When a browser must work out a small sum before its entry is taken: while machines seem to be at the point, always, or never. */
  @Default('attack') @IsIn(CHALLENGES) challenge!: (typeof CHALLENGES)[number]
  /** What visitors read on any other site; '' for our words. */
  @Default('') @IsString() @MaxLength(LIMITS.text) refusal!: string
  /** Each entry waits until somebody lets it in, or (`when`) each of which that holds; these members are told that one does. */
  @Default(false) @IsBoolean() hold!: boolean
  @ConditionMaybe(ABOUT_ENTRY) when?: Condition | null
  @Default([]) @IsArray() @ArrayMaxSize(20) @IsUUID('all', { each: true }) @ArrayUnique() approvers!: string[]
}

/** Asks people to show that the address is theirs: a mail with a link. Until it is used they get nothing else. */
export class Confirmation {
  @IsString() @MaxLength(LIMITS.title) subject!: string
  @IsString() @MaxLength(LIMITS.answer) text!: string
  /** What they read once they have confirmed. */
  @IsString() @MaxLength(LIMITS.text) done!: string
  /** What comes with it, or in its stead. */
  @Default({ kind: 'message' }) @OneOf(CONFIRMED) then!: Confirmed
}

/** Which of its mails a point sends to somebody: all that fit them, or the first one only; and as whom, and where replies go ('': as the house does). */
export class Mailing {
  @IsIn(['all', 'first']) which!: 'all' | 'first'
  @Default('') @IsString() @MaxLength(60) @Matches(/^[^\p{Cc}]*$/u) name!: string
  @Default('') @IsString() @MaxLength(254) @Matches(/^(?:[^\s@,;<>]+@[^\s@,;<>]+\.[^\s@,;<>]+)?$/) reply!: string
}

/** A mail to people who began and did not send, so many hours after the last key. */
export class Reminder {
  @IsInt() @Min(1) @Max(168) hours!: number
  @IsString() @MaxLength(LIMITS.title) subject!: string
  @IsString() @MaxLength(LIMITS.text) text!: string
}

/** Another variant of a point, tried beside its own: the texts that draw people in. */
export class Variant {
  @Matches(/^[b-h]$/, { message: 'The key of a wording is a letter from b to h' }) key!: string
  @IsString() @MaxLength(LIMITS.title) title!: string
  @IsString() @MaxLength(LIMITS.text) intro!: string
  @IsString() @MaxLength(LIMITS.button) button!: string
  @IsString() @MaxLength(400) invitation!: string
  @IsString() @MaxLength(60) open!: string
}

/** A text in another language; its key is where it stands (`translations.ts`). */
class TranslatedText {
  @IsString() @MaxLength(600) key!: string
  @IsString() @MaxLength(LIMITS.answer) text!: string
}

/** What visitors read in another language. */
export class Translation {
  @IsIn(LANGUAGE_KEYS) key!: Language
  @ArrayMaxSize(1000)
  @ArrayUnique((t: TranslatedText) => t?.key, { message: 'A text is translated twice' })
  @ListOf(() => TranslatedText)
  texts!: TranslatedText[]
}
