/** What a quiz may say, and how much of it: plain lists, for those who check and those who offer. */
export const QUIZ_KINDS = ['outcomes', 'marks'] as const
/** What was right is said with the result, or not at all. */
export const SAYS = ['end', 'never'] as const
/** The contact questions stand first, or just before the result. */
export const CONTACTS = ['start', 'before'] as const
/** A list; a row from one worded end to the other; pictures. */
export const SHOWS = ['list', 'scale', 'pictures'] as const
export const MOST_RESULTS = 20
export const MOST_TOPICS = 12
export const MOST_BANDS = 20
export const MOST_WISHES = 40
export const MOST_WEIGHT = 1_000_000_000
