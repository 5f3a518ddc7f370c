import { SHEET } from '#core/points/sheet'
import { themeVariables, type Theme } from '#core/points/theme'
import { QUIZ_SHEET } from '#core/quiz/style'

/**
 * How a point looks to visitors: one sheet for its own page, a customer's page
 * (inside a shadow root, so neither side's rules reach the other) and the preview.
 * @param base where pictures come from, when not from here
 */
export const pointStyle = (theme: Theme, base = ''): string => `.cv{${themeVariables(theme, base)}}${SHEET}${QUIZ_SHEET}`
