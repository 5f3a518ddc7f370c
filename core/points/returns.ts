/** What a visitor may do after an entry, through signed links: correct it, enter again. */
export interface Returns { correct: boolean; again: boolean }
export const NO_RETURNS: Returns = { correct: false, again: false }
