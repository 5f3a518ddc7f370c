import { NOWHERE, type DisplayRules } from '#core/appearing/definition'
import type { Condition } from '#core/conditions/condition'
import { PLAIN_FILES, endingsOf, type FileRules } from '#core/files/kinds'
import { BY_EMAIL, type SameBy } from '#core/identity/same-person'
import { countries } from '#core/properties/countries'
import { PROPERTY_KINDS, type Choice as PlainChoice, type Property, type PropertyKind } from '#core/properties/kinds'
import { ALWAYS_OPEN, type Closing } from '#core/points/closing'
import type { Confirmation, Mail } from '#core/points/mails'
import { HOUSE_THEME, themeFiles, type DrawnTheme, type Theme } from '#core/points/theme'
import type { Next } from '#core/points/next'
import type { Reminder } from '#core/points/reminder'
import { NO_RETURNS, type Returns } from '#core/points/returns'
import { DEFINITION_VERSION } from '#core/points/upgrade'
import { experimentOf, type Variant } from '#core/points/variants'

/**
 * What a point asks and says, as it is stored: versioned, so that it can grow.
 * `schema.ts` checks one that comes from outside; `checks.ts` tells what keeps it from going live.
 */
export interface PointDefinition {
  version: typeof DEFINITION_VERSION
  title: string
  intro: string
  questions: Question[]
  button: string
  thanks: string
  theme: Theme
  /** The house style that the theme follows, by its id; `theme` is then what it looked like when this was saved. */
  houseStyle: string | null
  afterwards: {
    /** The label to give on completion: a floor under what the scorecard says. */
    label: string | null
    tags: string[]
    /** The lists that people are put on, by their ids. */
    lists: string[]
    /** Who gets a lead that nobody has yet, whatever the routing plan says: a member's id. */
    owner: string | null
    /** The next step for a lead that has none, so many days later. */
    nextStep: { text: string; days: number } | null
    tell: Notify[]
  }
  people: PeopleRules
  next: Next
  returns: Returns
  closing: Closing
  guards: Guards
  /** Where and when it shows by itself on the site. */
  display: DisplayRules
  mails: Mail[]
  confirm: Confirmation | null
  reminder: Reminder | null
  /** Other variants that are tried beside its own. */
  variants: Variant[]
}

/** Colleagues to tell beside the owner, when a condition holds of the lead and their answers. Subject and text may have placeholders. */
export interface Notify { key: string; members: string[]; when: Condition | null; subject: string; text: string }

export const QUESTION_KINDS = [...PROPERTY_KINDS, 'consent'] as const
export type QuestionKind = PropertyKind | 'consent'

export interface Question {
  /** Stands for the question in entries: small letters, digits, underscores. */
  key: string
  kind: QuestionKind
  /** What is asked; of a consent question the exact words that are agreed to. */
  label: string
  help: string
  placeholder: string
  required: boolean
  /** Own text for an answer that is missing or does not fit. */
  error: string
  /** The property of the lead that the answer fills, or null when it stands alone. */
  property: string | null
  /** What the property does when it is known already and the new answer differs. */
  onDifference: OnDifference
  /** Of one-of and some-of questions. */
  choices: Choice[]
  limits: Limits
  /** The answer that stands there from the start; '' for none. */
  preset: string
  /** Not asked: the answer is given by the marketer, or by the page the point stands on. */
  hidden: Hidden | null
  /** Asked only if this holds of the answers before it: attributes `answer.<key>`. */
  shownIf: Condition | null
  /** Begins a new page of the point. */
  newPage: boolean
  /** Of a consent question: the mails that it allows. */
  allows: string[]
  /** Of a file question: which files, and how large; how many is in its limits, one if nothing is said. */
  files: FileRules
}

/** A choice; its tag is set on whoever chooses it. */
export interface Choice extends PlainChoice { tag?: string }

/** `fixed`: always this. `page`: the value of this parameter in the page's address (`?utm_campaign=`), else the value here. */
export interface Hidden { from: 'fixed' | 'page'; value: string; parameter: string }

/** Of text: characters. Of number: the number. Of money: whole units. Of date: ISO days. Of some-of and files: how many. `null`: no limit. */
export interface Limits { least: number | string | null; most: number | string | null }

export const ON_DIFFERENCE = ['replace', 'fill', 'add', 'keep'] as const
/** Replace what is known; fill only a gap; add to it (texts get a line, lists grow); leave it as it is, even empty. */
export type OnDifference = typeof ON_DIFFERENCE[number]

export interface Guards {
  /** The sites that entries may come from, as origins (`https://firm.example`). Empty: any. */
  origins: string[]
  /** When a browser must work out a small sum before its entry is taken: while machines seem to be at the point, always, or never. */
  challenge: typeof CHALLENGES[number]
}
export const CHALLENGES = ['attack', 'always', 'never'] as const

/** What happens to people this point knows or does not know yet. */
export interface PeopleRules {
  /** Who is known already: change as the questions say, only fill gaps, or leave what is known. */
  known: 'update' | 'fill' | 'leave'
  /** The property, or the pair of them, that makes somebody the same person to this point. An address that they give is theirs in any case. */
  same: SameBy
  /** Who is new: becomes a lead, or the entry is held for somebody to look at, or it is refused. */
  unknown: 'create' | 'hold' | 'refuse'
}

/** An answer exactly as typed; a list where several may be chosen. */
export type Answer = string | string[]
export type Answers = Record<string, Answer>

export const LIMITS = {
  questions: 40, choices: 60, label: 600, help: 600, title: 200, text: 4000, button: 60, tags: 20, placeholder: 120,
  /** Characters of one answer. */
  answer: 20_000,
} as const

/** A question with nothing decided but what is given. */
export function blankQuestion(given: Partial<Question> & Pick<Question, 'key' | 'kind'>): Question {
  return {
    label: '', help: '', placeholder: '', required: false, error: '', property: null, onDifference: 'replace', choices: [],
    limits: { least: null, most: null }, preset: '', hidden: null, shownIf: null, newPage: false, allows: [], files: PLAIN_FILES, ...given,
  }
}

/** A new form: one question to know the person by, nothing else decided. */
export function blankDefinition(title: string): PointDefinition {
  return {
    version: DEFINITION_VERSION,
    title,
    intro: '',
    questions: [blankQuestion({ key: 'email', kind: 'email', label: 'Your e-mail address', required: true, property: 'email' })],
    button: 'Send',
    thanks: 'Thank you. We will be in touch.',
    theme: HOUSE_THEME,
    houseStyle: null,
    afterwards: { label: null, tags: [], lists: [], owner: null, nextStep: null, tell: [] },
    people: { known: 'update', unknown: 'create', same: BY_EMAIL },
    next: { kind: 'message' },
    returns: NO_RETURNS,
    closing: ALWAYS_OPEN,
    guards: { origins: [], challenge: 'attack' },
    display: NOWHERE,
    mails: [],
    confirm: null,
    reminder: null,
    variants: [],
  }
}

/** A key for a question that no other has, from its label. */
export function freshKey(label: string, taken: string[]): string {
  const stem = label.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase().replace(/[^a-z0-9]+/g, '_').slice(0, 30).replace(/^_+|_+$/g, '')
  const base = /^[a-z]/.test(stem) ? stem : `q${stem ? `_${stem}` : ''}`
  for (let n = 1; ; n++) {
    const key = n === 1 ? base : `${base}_${n}`
    if (!taken.includes(key) && !(key in Object.prototype)) return key
  }
}

/** The choices of a question: its own, or those that its kind brings. */
export function choicesOf(q: Pick<Question, 'kind' | 'choices'>): Choice[] {
  if (q.kind === 'yes_no') return YES_NO
  return q.kind === 'country' ? countries() : q.choices
}
const YES_NO: Choice[] = [{ value: 'yes', text: 'Yes' }, { value: 'no', text: 'No' }]

/** An answer in the words that the visitor saw. */
export function answerText(q: Pick<Question, 'kind' | 'choices'>, answer: Answer): string {
  if (q.kind === 'consent') return 'Agreed'
  const choices = choicesOf(q)
  return [answer].flat().map(a => choices.find(c => c.value === a)?.text ?? a).join(', ')
}

/** The pages of a point: its questions, cut where one begins a new page. */
export function pagesOf<Q extends { newPage?: boolean }>(questions: Q[]): Q[][] {
  const pages: Q[][] = []
  for (const q of questions) {
    if (!pages.length || q.newPage) pages.push([])
    pages.at(-1)!.push(q)
  }
  return pages
}

/** What a visitor's browser needs to draw a point, and no more. */
export interface PublicPoint {
  key: string
  edition: number
  title: string
  intro: string
  button: string
  questions: PublicQuestion[]
  theme: Theme
  /** The theme worked out; only what the script fetches has it. */
  drawn?: DrawnTheme
  /** The other variants that are tried, and what tells this experiment from others. */
  variants?: Pick<Variant, 'key' | 'title' | 'intro' | 'button'>[]
  experiment?: string
  /** What stands there instead of the questions, while it takes no entries. */
  closed?: string
}
export interface PublicQuestion {
  key: string
  kind: QuestionKind
  label: string
  required: boolean
  help?: string
  placeholder?: string
  error?: string
  choices?: PlainChoice[]
  limits?: Limits
  /** What stands there from the start; a list where several may be chosen. */
  preset?: Answer
  shownIf?: Condition
  newPage?: boolean
  /** Filled by the page: the name of the parameter in its address. */
  parameter?: string
  /** What browsers may fill in by themselves (HTML's autofill tokens). */
  autocomplete?: string
  /** Of a file question: the endings that are taken, and megabytes each. */
  files?: { endings: string[]; megabytes: number }
  /** Nothing of it is kept or sent before the form is sent. */
  unkept?: true
}

const AUTOFILL: Record<string, string> = {
  email: 'email', first_name: 'given-name', last_name: 'family-name', name: 'name', company: 'organization', phone: 'tel', town: 'address-level2',
  postcode: 'postal-code', street: 'street-address', job_title: 'organization-title', website: 'url', country: 'country', birthday: 'bday',
}

/** The part of an edition that visitors may see. Questions with a fixed answer are not theirs to see. */
export function publicPoint(key: string, edition: number, definition: PointDefinition): PublicPoint {
  const asked = definition.questions.filter(q => q.hidden?.from !== 'fixed')
  const experiment = experimentOf(definition)
  return {
    key, edition, title: definition.title, intro: definition.intro, button: definition.button, theme: definition.theme, questions: asked.map(publicQuestion),
    ...(experiment && { experiment, variants: definition.variants.map(({ key, title, intro, button }) => ({ key, title, intro, button })) }),
  }
}

function publicQuestion(q: Question): PublicQuestion {
  const choices = choicesOf(q).map(({ value, text }) => ({ value, text }))
  const autocomplete = AUTOFILL[q.property ?? ''] ?? (q.kind === 'email' ? 'email' : q.kind === 'phone' ? 'tel' : '')
  return {
    key: q.key, kind: q.kind, label: q.label, required: q.required,
    ...(q.help && { help: q.help }), ...(q.placeholder && { placeholder: q.placeholder }), ...(q.error && { error: q.error }),
    ...(choices.length && { choices }),
    ...((q.limits.least !== null || q.limits.most !== null) && { limits: q.limits }),
    ...(q.preset && { preset: q.preset }), ...(q.shownIf && { shownIf: q.shownIf }), ...(q.newPage && { newPage: true }),
    ...(q.hidden && { parameter: q.hidden.parameter }), ...(q.kind === 'file' && { files: { endings: endingsOf(q.files), megabytes: q.files.megabytes } }), ...(autocomplete && !q.hidden && { autocomplete }),
  }
}

/** Whether what is typed there may be kept before it is sent: nothing private, no files. */
export const mayKeep = (q: Pick<Question, 'kind' | 'property'>, properties: Pick<Property, 'key' | 'sensitivity'>[]): boolean =>
  q.kind !== 'file' && (properties.find(p => p.key === q.property)?.sensitivity ?? 'ordinary') === 'ordinary'

/** A public point that tells which questions are not kept before they are sent. */
export const withUnkept = (point: PublicPoint, definition: PointDefinition, properties: Pick<Property, 'key' | 'sensitivity'>[]): PublicPoint =>
  ({ ...point, questions: point.questions.map(q => mayKeep(definition.questions.find(o => o.key === q.key)!, properties) ? q : { ...q, unkept: true }) })

/** The files of ours that a point hands out. */
export const filesIn = ({ next, confirm, mails, theme }: PointDefinition): string[] =>
  [...[next, confirm?.then, ...mails.map(l => l.goal)].flatMap(n => n?.kind === 'file' && n.file ? [n.file] : []), ...themeFiles(theme)].map(f => f.id)
