import { PROPERTY_KINDS } from '#core/properties/kinds'

/** What a definition may say, and how much of it: plain lists, for those who check and those who offer. */
export const QUESTION_KINDS = [...PROPERTY_KINDS, 'consent'] as const
export type QuestionKind = (typeof QUESTION_KINDS)[number]

export const ON_DIFFERENCE = ['replace', 'fill', 'add', 'keep'] as const
/** Replace what is known; fill only a gap; add to it (texts get a line, lists grow); leave it as it is, even empty. */
export type OnDifference = (typeof ON_DIFFERENCE)[number]

export const CHALLENGES = ['attack', 'always', 'never'] as const

export const LIMITS = {
  questions: 40,
  choices: 60,
  label: 600,
  help: 600,
  title: 200,
  text: 4000,
  button: 60,
  tags: 20,
  placeholder: 120,
  /** Characters of one answer. */
  answer: 20_000,
} as const

export const MOST_VARIANTS = 4
/** Actions of a point, and of each kind that there may be more than one of. */
export const MOST_ACTIONS = 20

export const PATTERNS = ['panes', 'furrows', 'seeds', 'shade'] as const
export type Pattern = (typeof PATTERNS)[number]
export const FONTS = ['page', 'plain', 'bookish', 'round', 'upright'] as const
/** `page`: the font of the page it stands in. The others ship with the application. */
export type Font = (typeof FONTS)[number]
export const CORNERS = ['square', 'soft', 'round'] as const
export type Corners = (typeof CORNERS)[number]
export const FIELD_SHAPES = ['boxed', 'lined', 'filled'] as const
export const BUTTON_WIDTHS = ['natural', 'full'] as const
export const WIDTHS = ['narrow', 'medium', 'wide'] as const
export const ALIGNS = ['start', 'center'] as const
