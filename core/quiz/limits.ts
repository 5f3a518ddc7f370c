/** What a quiz may say, and how much of it: plain lists, for those who check and those who offer. */
export const QUIZ_KINDS = ['outcomes', 'marks'] as const
/** What was right is said with the result, after each answer, or not at all. */
export const SAYS = ['end', 'each', 'never'] as const
/** The contact questions stand first, just before the result, or below it. */
export const CONTACTS = ['start', 'before', 'after'] as const
/** What stands in an order of its own for each person. */
export const SHUFFLES = ['none', 'questions', 'choices', 'both'] as const
/** A list; a row from one worded end to the other; pictures. */
export const SHOWS = ['list', 'scale', 'pictures'] as const
export const MOST_RESULTS = 20
export const MOST_TOPICS = 12
export const MOST_BANDS = 20
export const MOST_WISHES = 40
export const MOST_WEIGHT = 1_000_000_000
/** The picture of a result that is shown to others, in pixels: as those expect who show links to each other (Open Graph). */
export const SHARED_SIZE = { width: 1200, height: 630 }
