import {
  ArrayMaxSize, ArrayMinSize, ArrayUnique, Equals, IsArray, IsBoolean, IsIn, IsInt, IsISO8601, IsObject, IsOptional, IsString, IsUUID, Length, Matches, Max, MaxLength, Min, ValidateBy, ValidateIf,
} from 'class-validator'
import { NOWHERE, type DisplayRules } from '#core/appearing/definition'
import { DisplayRulesShape, readDisplayRules } from '#core/appearing/schema'
import { readCondition } from '#core/conditions/condition'
import { ABOUT_ANSWERS, ABOUT_ENTRY } from '#core/conditions/askable'
import { FILE_FAMILIES, MOST_MEGABYTES, PLAIN_FILES, type FileFamily, type FileRules, type SentFile } from '#core/files/kinds'
import { BY_EMAIL } from '#core/identity/same-person'
import type { Flaw } from '#core/flaws'
import { ALWAYS_OPEN, type Closing } from '#core/points/closing'
import {
  blankQuestion, CHALLENGES, LIMITS, ON_DIFFERENCE, QUESTION_KINDS, type Guards, type OnDifference, type PeopleRules, type PointDefinition, type Question, type QuestionKind, type Notify,
} from '#core/points/definition'
import type { Goal, Mail } from '#core/points/mails'
import { NEXT_KINDS, type Confirmed, type Next, type NextKind } from '#core/points/next'
import { ALIGNS, BUTTON_WIDTHS, CORNERS, FIELD_SHAPES, FONTS, HOUSE_THEME, PATTERNS, WIDTHS, type Theme, type Mark, type Pattern } from '#core/points/theme'
import type { Reminder } from '#core/points/reminder'
import { NO_RETURNS, type Returns } from '#core/points/returns'
import { DEFINITION_VERSION, upgraded } from '#core/points/upgrade'
import { MOST_VARIANTS, type Variant } from '#core/points/variants'
import { check, ListOf, Nested } from '#core/validate'

/** A key may not be a name that every object has; of those only one is written in small letters. */
const KEY = /^(?!constructor$)[a-z][a-z0-9_]{0,49}$/
const COLOUR = { message: 'A colour is written #rrggbb' }
const IsLimit = () => ValidateBy({ name: 'isLimit', validator: {
  validate: (v: unknown) => v === null || v === undefined || (typeof v === 'number' && Number.isFinite(v) && Math.abs(v) <= 1e12) || (typeof v === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(v)),
  defaultMessage: () => 'A limit is a number, or a day like 2026-04-18',
} })

class ChoiceShape {
  @IsString() @Length(1, LIMITS.label) value!: string
  @IsString() @Length(1, LIMITS.label) text!: string
  @IsOptional() @IsString() @Length(1, 60) tag?: string
}

class LimitsShape {
  @IsLimit() least?: number | string | null
  @IsLimit() most?: number | string | null
}

class HiddenShape {
  @IsIn(['fixed', 'page']) from!: 'fixed' | 'page'
  @IsOptional() @IsString() @MaxLength(LIMITS.label) value?: string
  @ValidateIf((h: HiddenShape) => h.from === 'page') @Matches(/^[\w.-]{1,60}$/, { message: 'A parameter’s name has letters, digits, points, hyphens and underscores, at most 60' }) parameter?: string
}

class FilesShape implements FileRules {
  @IsArray() @IsIn(FILE_FAMILIES, { each: true }) @ArrayUnique() accepts!: FileFamily[]
  @IsInt() @Min(1) @Max(MOST_MEGABYTES) megabytes!: number
}

class QuestionShape {
  @Matches(KEY, { message: 'A question key has small letters, digits and underscores, begins with a letter, and has at most 50 of them' })
  key!: string

  @IsIn(QUESTION_KINDS, { message: `The kind must be one of ${QUESTION_KINDS.join(', ')}` }) kind!: QuestionKind
  @IsString() @MaxLength(LIMITS.label) label!: string
  @IsOptional() @IsString() @MaxLength(LIMITS.help) help?: string
  @IsOptional() @IsString() @MaxLength(LIMITS.placeholder) placeholder?: string
  @IsBoolean() required!: boolean
  @IsOptional() @IsString() @MaxLength(LIMITS.help) error?: string
  @ValidateIf(q => q.property !== null && q.property !== undefined) @IsString() @Matches(/^[a-z][a-z0-9_]*$/) property?: string | null
  @IsOptional() @IsIn(ON_DIFFERENCE) onDifference?: OnDifference
  @IsOptional() @ArrayMaxSize(LIMITS.choices) @ListOf(() => ChoiceShape) choices?: ChoiceShape[]
  @IsOptional() @Nested(() => LimitsShape) limits?: LimitsShape
  @IsOptional() @IsString() @MaxLength(LIMITS.text) preset?: string
  @IsOptional() @Nested(() => HiddenShape) hidden?: HiddenShape | null
  @IsOptional() @IsObject() shownIf?: object | null
  @IsOptional() @IsBoolean() newPage?: boolean
  @IsOptional() @IsArray() @ArrayMaxSize(20) @Matches(KEY, { each: true }) @ArrayUnique() allows?: string[]
  @IsOptional() @Nested(() => FilesShape) files?: FilesShape
}

class ReminderShape implements Reminder {
  @IsInt() @Min(1) @Max(168) hours!: number
  @IsString() @MaxLength(LIMITS.title) subject!: string
  @IsString() @MaxLength(LIMITS.text) text!: string
}

class VariantShape implements Variant {
  @Matches(/^[b-h]$/, { message: 'The key of a wording is a letter from b to h' }) key!: string
  @IsString() @MaxLength(LIMITS.title) title!: string
  @IsString() @MaxLength(LIMITS.text) intro!: string
  @IsString() @MaxLength(LIMITS.button) button!: string
  @IsString() @MaxLength(400) invitation!: string
  @IsString() @MaxLength(60) open!: string
}

class NextStepShape {
  @IsString() @Length(1, 200) text!: string
  @IsInt() @Min(0) @Max(365) days!: number
}

class NotifyShape {
  @Matches(KEY) key!: string
  @IsArray() @ArrayMaxSize(20) @IsUUID(undefined, { each: true }) @ArrayUnique() members!: string[]
  @IsOptional() @IsObject() when?: object | null
  @IsString() @MaxLength(LIMITS.title) subject!: string
  @IsString() @MaxLength(LIMITS.text) text!: string
}

class AfterwardsShape {
  @ValidateIf(a => a.label !== null && a.label !== undefined) @IsString() @MaxLength(60) label?: string | null
  @IsOptional() @IsArray() @ArrayMaxSize(LIMITS.tags) @IsString({ each: true }) @Length(1, 60, { each: true }) @ArrayUnique() tags?: string[]
  @IsOptional() @IsArray() @ArrayMaxSize(20) @IsUUID(undefined, { each: true }) @ArrayUnique() lists?: string[]
  @IsOptional() @IsUUID() owner?: string | null
  @IsOptional() @Nested(() => NextStepShape) nextStep?: NextStepShape | null
  @IsOptional() @ArrayMaxSize(5) @ArrayUnique((t: NotifyShape) => t?.key) @ListOf(() => NotifyShape) tell?: NotifyShape[]
}

export class FileShape implements SentFile {
  @IsUUID() id!: string
  @IsString() @Length(1, 200) name!: string
}

class MarkShape {
  @Nested(() => FileShape) file!: FileShape
  @IsInt() @Min(1) @Max(20_000) width!: number
  @IsInt() @Min(1) @Max(20_000) height!: number
  @IsString() @MaxLength(LIMITS.title) alt!: string
}

class BackdropShape {
  @IsIn(['plain', 'pattern', 'picture']) kind!: Theme['backdrop']['kind']
  @ValidateIf((b: BackdropShape) => b.kind === 'pattern') @IsIn(PATTERNS) pattern?: Pattern
  @ValidateIf((b: BackdropShape) => b.kind === 'picture') @Nested(() => MarkShape) picture?: MarkShape
}

export class ThemeShape {
  @Matches(/^#[0-9a-f]{6}$/i, COLOUR) sheet!: string
  @Matches(/^#[0-9a-f]{6}$/i, COLOUR) ink!: string
  @Matches(/^#[0-9a-f]{6}$/i, COLOUR) accent!: string
  @IsIn(FONTS) font!: Theme['font']
  @IsIn(CORNERS) corners!: Theme['corners']
  @IsIn(FIELD_SHAPES) fields!: Theme['fields']
  @IsIn(BUTTON_WIDTHS) button!: Theme['button']
  @IsIn(WIDTHS) width!: Theme['width']
  @IsIn(ALIGNS) align!: Theme['align']
  @IsOptional() @Nested(() => BackdropShape) backdrop?: BackdropShape
  @IsOptional() @Nested(() => MarkShape) logo?: MarkShape | null
}

class PeopleShape {
  @IsIn(['update', 'fill', 'leave']) known!: PeopleRules['known']
  @IsIn(['create', 'hold', 'refuse']) unknown!: PeopleRules['unknown']
  @IsOptional() @IsArray() @ArrayMinSize(1) @ArrayMaxSize(2) @Matches(KEY, { each: true }) @ArrayUnique() same?: string[]
}

class NextShape {
  @IsIn(NEXT_KINDS) kind!: NextKind
  @ValidateIf((n: NextShape) => n.kind === 'address') @IsString() @MaxLength(2000) address?: string
  @IsOptional() @Nested(() => FileShape) file?: FileShape | null
  @ValidateIf((n: NextShape) => n.kind === 'meeting') @IsInt() @Min(10) @Max(240) minutes?: number
  @ValidateIf((n: NextShape) => n.kind === 'meeting') @IsInt() @Min(1) @Max(60) days?: number
}

class GoalShape {
  @IsIn(['message', 'address', 'file']) kind!: 'message' | 'address' | 'file'
  @ValidateIf((n: GoalShape) => n.kind === 'address') @IsString() @MaxLength(2000) address?: string
  @IsOptional() @Nested(() => FileShape) file?: FileShape | null
}

class ReturnsShape implements Returns {
  @IsBoolean() correct!: boolean
  @IsBoolean() again!: boolean
}

class ClosingShape implements Closing {
  @ValidateIf(c => c.from !== null) @IsISO8601({ strict: true }) from!: string | null
  @ValidateIf(c => c.until !== null) @IsISO8601({ strict: true }) until!: string | null
  @ValidateIf(c => c.entries !== null) @IsInt() @Min(1) @Max(10_000_000) entries!: number | null
  @IsString() @MaxLength(LIMITS.text) text!: string
}

class GuardsShape {
  @IsArray() @ArrayMaxSize(50) @IsString({ each: true }) @MaxLength(300, { each: true }) @ArrayUnique() origins!: string[]
  @IsOptional() @IsIn(CHALLENGES) challenge?: Guards['challenge']
}

class MailShape {
  @Matches(KEY) key!: string
  @IsString() @MaxLength(LIMITS.title) subject!: string
  @IsString() @MaxLength(LIMITS.answer) text!: string
  @IsInt() @Min(0) @Max(90) days!: number
  @IsOptional() @Nested(() => GoalShape) goal?: GoalShape | null
  @IsOptional() @IsBoolean() unlessClicked?: boolean
}

class ConfirmationShape {
  @IsString() @MaxLength(LIMITS.title) subject!: string
  @IsString() @MaxLength(LIMITS.answer) text!: string
  @IsString() @MaxLength(LIMITS.text) done!: string
  @IsOptional() @Nested(() => GoalShape) then?: GoalShape
}

class DefinitionShape {
  @Equals(DEFINITION_VERSION, { message: 'This Cavlin reads point definitions up to version 2' }) version!: 2
  @IsString() @MaxLength(LIMITS.title) title!: string
  @IsOptional() @IsString() @MaxLength(LIMITS.text) intro?: string
  @IsArray() @ArrayMaxSize(LIMITS.questions) @ArrayUnique((q: QuestionShape) => q?.key, { message: 'Two questions have the same key' })
  @ListOf(() => QuestionShape) questions!: QuestionShape[]

  @IsString() @MaxLength(LIMITS.button) button!: string
  @IsString() @MaxLength(LIMITS.text) thanks!: string
  @IsOptional() @Nested(() => ThemeShape) theme?: ThemeShape
  @IsOptional() @IsUUID() houseStyle?: string | null
  @Nested(() => AfterwardsShape) afterwards!: AfterwardsShape
  @IsOptional() @Nested(() => PeopleShape) people?: PeopleShape
  @IsOptional() @Nested(() => NextShape) next?: NextShape
  @IsOptional() @Nested(() => ReturnsShape) returns?: ReturnsShape
  @IsOptional() @Nested(() => ClosingShape) closing?: ClosingShape
  @IsOptional() @Nested(() => GuardsShape) guards?: GuardsShape
  @IsOptional() @Nested(() => DisplayRulesShape) display?: DisplayRulesShape
  @IsOptional() @ArrayMaxSize(5) @ArrayUnique((l: MailShape) => l?.key, { message: 'Two mails have the same key' }) @ListOf(() => MailShape) mails?: MailShape[]
  @IsOptional() @Nested(() => ConfirmationShape) confirm?: ConfirmationShape | null
  @IsOptional() @Nested(() => ReminderShape) reminder?: ReminderShape | null
  @IsOptional() @ArrayMaxSize(MOST_VARIANTS - 1) @ArrayUnique((w: VariantShape) => w?.key, { message: 'Two wordings have the same key' }) @ListOf(() => VariantShape) variants?: VariantShape[]
}

/**
 * Reads a definition out of an untrusted value: shape, limits and kinds, not
 * whether it may go live (see `checks`). What may be left out gets its default.
 */
export function readDefinition(plain: unknown): { definition: PointDefinition; flaws: [] } | { definition: null; flaws: Flaw[] } {
  const { value, flaws } = check(DefinitionShape, upgraded(plain))
  if (!value) return { definition: null, flaws }
  let questions: Question[]
  let tell: Notify[]
  let display: DisplayRules
  try {
    questions = value.questions.map(readQuestion)
    display = value.display ? readDisplayRules(value.display, 'display') : NOWHERE
    tell = (value.afterwards?.tell ?? []).map(({ key, members, when, subject, text }, i) => ({ key, members, when: when ? readCondition(when, `afterwards.tell.${i}.when`, ABOUT_ENTRY) : null, subject, text }))
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    return { definition: null, flaws: [{ field: error.message.split(' ')[0]!, message: `${error.message}.` }] }
  }
  return {
    definition: {
      version: DEFINITION_VERSION,
      title: value.title,
      intro: value.intro ?? '',
      questions,
      button: value.button,
      thanks: value.thanks,
      theme: value.theme ? readTheme(value.theme) : HOUSE_THEME,
      houseStyle: value.houseStyle ?? null,
      afterwards: {
        label: value.afterwards?.label ?? null, tags: value.afterwards?.tags ?? [], lists: value.afterwards?.lists ?? [], owner: value.afterwards?.owner ?? null,
        nextStep: value.afterwards?.nextStep ? { text: value.afterwards.nextStep.text, days: value.afterwards.nextStep.days } : null, tell,
      },
      people: { known: value.people?.known ?? 'update', unknown: value.people?.unknown ?? 'create', same: value.people?.same ?? BY_EMAIL },
      next: readNext(value.next),
      returns: value.returns ? { correct: value.returns.correct, again: value.returns.again } : NO_RETURNS,
      closing: value.closing ? { from: value.closing.from, until: value.closing.until, entries: value.closing.entries, text: value.closing.text } : ALWAYS_OPEN,
      guards: { origins: value.guards?.origins ?? [], challenge: value.guards?.challenge ?? 'attack' },
      display,
      mails: (value.mails ?? []).map(readMail),
      confirm: value.confirm ? { subject: value.confirm.subject, text: value.confirm.text, done: value.confirm.done, then: readNext(value.confirm.then) as Confirmed } : null,
      reminder: value.reminder ? { hours: value.reminder.hours, subject: value.reminder.subject, text: value.reminder.text } : null,
      variants: (value.variants ?? []).map(({ key, title, intro, button, invitation, open }) => ({ key, title, intro, button, invitation, open })),
    },
    flaws: [],
  }
}

/** @throws TypeError naming the field, when the condition cannot be read */
function readQuestion(q: QuestionShape, i: number): Question {
  const several = q.kind === 'one_of' || q.kind === 'some_of'
  return blankQuestion({
    key: q.key, kind: q.kind, label: q.label, help: q.help ?? '', placeholder: q.placeholder ?? '', required: q.required, error: q.error ?? '',
    property: q.kind === 'consent' ? null : q.property ?? null, onDifference: q.onDifference ?? 'replace',
    choices: several ? (q.choices ?? []).map(c => ({ value: c.value, text: c.text, ...(c.tag && { tag: c.tag }) })) : [],
    limits: { least: q.limits?.least ?? null, most: q.limits?.most ?? null }, preset: q.preset ?? '',
    hidden: q.hidden ? { from: q.hidden.from, value: q.hidden.value ?? '', parameter: q.hidden.from === 'page' ? q.hidden.parameter ?? '' : '' } : null,
    shownIf: q.shownIf ? readCondition(q.shownIf, `questions.${i}.shownIf`, ABOUT_ANSWERS) : null,
    newPage: q.newPage ?? false, allows: q.kind === 'consent' ? q.allows ?? [] : [],
    files: q.kind === 'file' && q.files ? { accepts: q.files.accepts, megabytes: q.files.megabytes } : PLAIN_FILES,
  })
}

function readNext(next: (NextShape | GoalShape) | null | undefined): Next {
  if (!next) return { kind: 'message' }
  const { kind, address, file, minutes, days } = next as NextShape
  if (kind === 'address') return { kind, address: address ?? '' }
  if (kind === 'file') return { kind, file: file ? { id: file.id, name: file.name } : null }
  return kind === 'meeting' ? { kind, minutes: minutes!, days: days! } : { kind }
}

function readMail({ key, subject, text, days, goal, unlessClicked }: MailShape): Mail {
  const to = readNext(goal)
  return { key, subject, text, days, goal: to.kind === 'message' ? null : to as Goal, unlessClicked: unlessClicked ?? false }
}

const mark = (m: MarkShape): Mark => ({ file: { id: m.file.id, name: m.file.name }, width: m.width, height: m.height, alt: m.alt })

/** A theme out of its checked shape: colours in small letters, only what belongs to it. */
export function readTheme({ sheet, ink, accent, font, corners, fields, button, width, align, backdrop, logo }: ThemeShape): Theme {
  return {
    sheet: sheet.toLowerCase(), ink: ink.toLowerCase(), accent: accent.toLowerCase(), font, corners, fields, button, width, align,
    backdrop: backdrop?.kind === 'pattern' ? { kind: 'pattern', pattern: backdrop.pattern! } : backdrop?.kind === 'picture' ? { kind: 'picture', picture: mark(backdrop.picture!) } : { kind: 'plain' },
    logo: logo ? mark(logo) : null,
  }
}

/** A stored definition of an earlier day with what has come since. It was checked when it was stored. */
export function completed(stored: PointDefinition): PointDefinition {
  return {
    ...stored,
    theme: { ...HOUSE_THEME, ...stored.theme },
    houseStyle: stored.houseStyle ?? null,
    afterwards: { ...stored.afterwards, lists: stored.afterwards.lists ?? [], owner: stored.afterwards.owner ?? null, nextStep: stored.afterwards.nextStep ?? null, tell: stored.afterwards.tell ?? [] },
    people: { known: stored.people?.known ?? 'update', unknown: stored.people?.unknown ?? 'create', same: stored.people?.same ?? BY_EMAIL },
    next: stored.next ?? { kind: 'message' },
    returns: stored.returns ?? NO_RETURNS,
    closing: stored.closing ?? ALWAYS_OPEN,
    guards: { origins: stored.guards?.origins ?? [], challenge: stored.guards?.challenge ?? 'attack' },
    display: stored.display ?? NOWHERE,
    mails: (stored.mails ?? []).map(l => ({ ...l, goal: l.goal ?? null, unlessClicked: l.unlessClicked ?? false })),
    confirm: stored.confirm ? { ...stored.confirm, then: stored.confirm.then ?? { kind: 'message' } } : null,
    reminder: stored.reminder ?? null,
    variants: stored.variants ?? [],
    questions: stored.questions.map(blankQuestion),
  }
}
