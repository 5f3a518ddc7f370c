import type { Chat } from '#core/chat/chat'
import { NOWHERE } from '#core/appearing/nowhere'
import { PLAIN_FILES, endingsOf, type SentFile } from '#core/files/kinds'
import { mailsOf } from '#core/actions/edit'
import type { Answer } from '#core/points/answer'
import { countries } from '#core/properties/countries'
import type { Choice as PlainChoice, Property } from '#core/properties/kinds'
import { ALWAYS_OPEN, ANY_SITE, EVERYBODY, HOUSE_MAILING, HOUSE_THEME, NO_RETURNS } from '#core/points/defaults'
import type { Language } from '#core/languages/language'
import { sayIn, type Say } from '#core/languages/say'
import { chatWords, pointWords, type ChatWords, type PointWords } from '#core/languages/point-words'
import type { QuestionKind } from '#core/points/limits'
import type { PointDefinition } from '#core/points/shapes/definition'
import type { Choice, Limits, Question } from '#core/points/shapes/question'
import { themeFiles, type DrawnTheme, type Theme } from '#core/points/theme'
import type { Condition } from '#core/conditions/condition'
import type { AskingKind } from '#core/points/kinds'
import { DEFINITION_VERSION } from '#core/points/upgrade'
import { experimentOf, type Variant } from '#core/points/variants'
import type { Mark } from '#core/points/theme'
import type { Branch, Quiz } from '#core/quiz/shapes'
import { mayMove } from '#core/quiz/moves'
import { hasSaid } from '#core/quiz/said'
import { allowsNameless, inOrder } from '#core/quiz/way'

export { CHALLENGES, LIMITS, ON_DIFFERENCE, QUESTION_KINDS, type OnDifference, type QuestionKind } from '#core/points/limits'
export type { PointDefinition } from '#core/points/shapes/definition'
export type { Choice, Hidden, Limits, Question } from '#core/points/shapes/question'
export type { Guards, PeopleRules } from '#core/points/shapes/rules'

export type { Answer, Answers } from '#core/points/answer'

/** A question with nothing decided but what is given. */
export function blankQuestion(given: Partial<Question> & Pick<Question, 'key' | 'kind'>): Question {
  return {
    label: '',
    help: '',
    placeholder: '',
    required: false,
    error: '',
    property: null,
    onDifference: 'replace',
    choices: [],
    limits: { least: null, most: null },
    preset: '',
    hidden: null,
    shownIf: null,
    newPage: false,
    allows: [],
    files: PLAIN_FILES,
    quiz: null,
    ...given,
  }
}

/** A new form: one question to know the person by, nothing else decided. */
export function blankDefinition(title: string, language: Language = 'en'): PointDefinition {
  const say = sayIn(language)
  return {
    version: DEFINITION_VERSION,
    language,
    title,
    intro: '',
    questions: [blankQuestion({ key: 'email', kind: 'email', label: 'Your e-mail address', required: true, property: 'email' })],
    button: say('send'),
    thanks: say('thanks'),
    theme: HOUSE_THEME,
    houseStyle: null,
    actions: [],
    people: structuredClone(EVERYBODY),
    next: { kind: 'message' },
    returns: { ...NO_RETURNS },
    closing: { ...ALWAYS_OPEN },
    guards: structuredClone(ANY_SITE),
    display: NOWHERE,
    confirm: null,
    mailing: { ...HOUSE_MAILING },
    reminder: null,
    variants: [],
    translations: [],
    quiz: null,
    chat: null,
  }
}

/** Which kind of point a definition is of. */
export const kindOf = ({ quiz, chat }: Pick<PointDefinition, 'quiz' | 'chat'>): AskingKind => (chat ? 'chat' : quiz ? 'quiz' : 'form')

/** A key for a question that no other has, from its label. */
export function freshKey(label: string, taken: string[]): string {
  const stem = label
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .slice(0, 30)
    .replace(/^_+|_+$/g, '')
  const base = /^[a-z]/.test(stem) ? stem : `q${stem ? `_${stem}` : ''}`
  for (let n = 1; ; n++) {
    const key = n === 1 ? base : `${base}_${n}`
    if (!taken.includes(key) && !(key in Object.prototype)) return key
  }
}

/** The choices of a question: its own, or those that its kind brings. */
export function choicesOf(q: Pick<Question, 'kind' | 'choices'>, language: Language = 'en'): Choice[] {
  if (q.kind === 'yes_no') return (['yes', 'no'] as const).map(value => ({ value, text: sayIn(language)(value) }))
  return q.kind === 'country' ? countries(language) : q.choices
}

/** An answer in the words that the visitor saw. */
export function answerText(q: Pick<Question, 'kind' | 'choices'>, answer: Answer, language?: Language): string {
  if (q.kind === 'consent') return 'Agreed'
  const choices = choicesOf(q, language)
  return [answer]
    .flat()
    .map(a => choices.find(c => c.value === a)?.text ?? a)
    .join(', ')
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
  language: Language
  /** What is ours on it, in its language. */
  words: PointWords
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
  /** A chat: its questions come one at a time, from where it goes on. */
  chat?: { place: Chat['place']; keep: number; words: ChatWords }
  /** A quiz, and what it leaves out. */
  quiz?: QuizPublic
  /** Of the order in which it was drawn, where each person has one of their own. */
  seed?: number
  /** What stands there instead of the questions, while it takes no entries. */
  closed?: string
}
/** How a quiz is asked, as far as that is not as usual. */
export interface QuizPublic {
  noBack?: true
  noProgress?: true
  /** What the button says that passes over the questions who it is; without it they must be answered. */
  skip?: string
  /** Those questions come below the result, and this stands on their button. */
  after?: string
  /** Each answer is said something of. */
  each?: true
  shuffle?: 'questions' | 'choices' | 'both'
  /** Of the address to show to others: it was copied. */
  copied?: string
}
export interface PublicQuestion {
  key: string
  kind: QuestionKind
  label: string
  required: boolean
  help?: string
  placeholder?: string
  error?: string
  choices?: (PlainChoice & { picture?: Mark })[]
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
  /** In a quiz: where it leads on to, and that it asks who it is. */
  quiz?: { then?: Branch[]; contact?: true }
  /** Something is said of what was answered; and whether it may change its place. */
  says?: true
  moves?: true
  /** How its choices stand, where that is not a list. */
  as?: 'scale' | 'pictures'
  /** Stands above it. */
  above?: string
}

const AUTOFILL: Record<string, string> = {
  email: 'email',
  first_name: 'given-name',
  last_name: 'family-name',
  name: 'name',
  company: 'organization',
  phone: 'tel',
  town: 'address-level2',
  postcode: 'postal-code',
  street: 'street-address',
  job_title: 'organization-title',
  website: 'url',
  country: 'country',
  birthday: 'bday',
}

/** The part of an edition that visitors may see. Questions with a fixed answer are not theirs to see. */
export function publicPoint(key: string, edition: number, definition: PointDefinition, say = sayIn(definition.language)): PublicPoint {
  const { quiz, chat } = definition
  const asked = inOrder(chat ? [] : definition.questions, quiz).filter(q => q.hidden?.from !== 'fixed')
  const firstContact = quiz && asked.find(q => q.quiz?.contact)
  const experiment = experimentOf(definition)
  return {
    key,
    edition,
    language: definition.language,
    words: pointWords(say),
    title: definition.title,
    intro: definition.intro,
    button: definition.button,
    theme: definition.theme,
    questions: asked.map((q, i) =>
      quiz
        ? inQuizPage(publicQuestion(q, definition.language), q, {
            definition,
            quiz,
            isFirst: q === firstContact,
            isBehind: Boolean(asked[i - 1]?.quiz?.contact && !q.quiz?.contact),
          })
        : publicQuestion(q, definition.language),
    ),
    ...(chat && { chat: { place: chat.place, keep: chat.keep, words: chatWords(say, definition.language) } }),
    ...(quiz && { quiz: quizPublic(definition, quiz, say) }),
    ...(experiment && {
      experiment,
      variants: definition.variants.map(({ key, title, intro, button }) => ({ key, title, intro, button })),
    }),
  }
}

/** A question as a visitor's browser draws it. */
export function publicQuestion(q: Question, language: Language): PublicQuestion {
  const choices = choicesOf(q, language).map(({ value, text, quiz }) => ({ value, text, ...(quiz?.picture && { picture: quiz.picture }) }))
  const autocomplete = AUTOFILL[q.property ?? ''] ?? (q.kind === 'email' ? 'email' : q.kind === 'phone' ? 'tel' : '')
  return {
    key: q.key,
    kind: q.kind,
    label: q.label,
    required: q.required,
    ...(q.help && { help: q.help }),
    ...(q.placeholder && { placeholder: q.placeholder }),
    ...(q.error && { error: q.error }),
    ...(choices.length && { choices }),
    ...((q.limits.least !== null || q.limits.most !== null) && { limits: q.limits }),
    ...(q.preset && { preset: q.preset }),
    ...(q.shownIf && { shownIf: q.shownIf }),
    ...(q.newPage && { newPage: true }),
    ...(q.hidden && { parameter: q.hidden.parameter }),
    ...(q.kind === 'file' && { files: { endings: endingsOf(q.files), megabytes: q.files.megabytes } }),
    ...(autocomplete && !q.hidden && { autocomplete }),
  }
}

function quizPublic(definition: PointDefinition, quiz: Quiz, say: Say): QuizPublic {
  const nameless = allowsNameless(definition)
  return {
    // What was said of an answer is not to be unsaid.
    ...((!quiz.back || quiz.says === 'each') && { noBack: true as const }),
    ...(!quiz.progress && { noProgress: true as const }),
    ...(nameless && quiz.contact !== 'after' && { skip: say('skip') }),
    ...(nameless && quiz.contact === 'after' && { after: say('send') }),
    ...(quiz.says === 'each' && { each: true as const }),
    ...(quiz.shuffle !== 'none' && { shuffle: quiz.shuffle }),
    ...(quiz.share && { copied: say('copied') }),
  }
}

/** A question as a quiz asks it: on a page of its own, or with the others that ask who it is. */
function inQuizPage(
  shown: PublicQuestion,
  q: Question,
  {
    definition,
    quiz: { single, reason, says, shuffle },
    isFirst,
    isBehind,
  }: { definition: PointDefinition; quiz: Quiz; isFirst: boolean; isBehind: boolean },
): PublicQuestion {
  const { quiz } = q
  const newPage = quiz?.contact ? isFirst : single || shown.newPage || isBehind
  const { newPage: _, ...rest } = shown
  return {
    ...rest,
    ...(newPage && { newPage: true }),
    ...(isFirst && reason && { above: reason }),
    ...(quiz &&
      (quiz.then.length || quiz.contact) && {
        quiz: { ...(quiz.then.length && { then: quiz.then }), ...(quiz.contact && { contact: true as const }) },
      }),
    ...(quiz && quiz.as !== 'list' && q.kind === 'one_of' && { as: quiz.as }),
    ...(quiz?.as === 'pictures' && q.kind === 'some_of' && { as: quiz.as }),
    ...(says === 'each' && hasSaid(definition, q) && { says: true }),
    ...((shuffle === 'questions' || shuffle === 'both') && mayMove(definition, q) && { moves: true }),
  }
}

/** Whether what is typed there may be kept before it is sent: nothing private, no files. */
export const mayKeep = (q: Pick<Question, 'kind' | 'property'>, properties: Pick<Property, 'key' | 'sensitivity'>[]): boolean =>
  q.kind !== 'file' && (properties.find(p => p.key === q.property)?.sensitivity ?? 'ordinary') === 'ordinary'

/** A public point that tells which questions are not kept before they are sent. */
export const withUnkept = (
  point: PublicPoint,
  definition: PointDefinition,
  properties: Pick<Property, 'key' | 'sensitivity'>[],
): PublicPoint => ({
  ...point,
  questions: point.questions.map(q =>
    mayKeep(
      definition.questions.find(o => o.key === q.key)!,
      properties,
    )
      ? q
      : { ...q, unkept: true },
  ),
})

/** The files of ours that a point hands out. */
export const filesIn = ({ next, confirm, actions, theme, quiz, questions }: PointDefinition): string[] =>
  [
    ...[next, confirm?.then, ...mailsOf({ actions }).map(l => l.goal)].flatMap(n => (n?.kind === 'file' && n.file ? [n.file] : [])),
    ...themeFiles(theme),
    ...(quiz ? quizFiles(quiz, questions) : []),
  ].map(f => f.id)

/** The files of ours that a quiz shows and hands out. */
const quizFiles = ({ results }: Quiz, questions: Question[]): SentFile[] => [
  ...results.flatMap(r => [...(r.picture ? [r.picture.file] : []), ...(r.call.kind === 'file' && r.call.file ? [r.call.file] : [])]),
  ...questions.flatMap(q => q.choices.flatMap(c => c.quiz?.picture?.file ?? [])),
]
