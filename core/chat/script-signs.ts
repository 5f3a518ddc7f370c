/** Each step inwards. */
export const INDENT = '  '
/** Before steps that the line above does not lead to. */
export const APART = '---'

/** A text on one line, and back. */
export const escaped = (text: string): string => text.replaceAll('\\', '\\\\').replaceAll('\n', '\\n')
export const unescaped = (text: string): string => text.replace(/\\(.)/gs, (_, c: string) => (c === 'n' ? '\n' : c))
