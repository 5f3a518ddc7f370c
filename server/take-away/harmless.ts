/**
 * A text as a cell of a table that a spreadsheet opens: what it would take for a formula begins with an apostrophe, as OWASP advises
 * against CSV injection. A plain number, also a telephone number with its plus sign, stays as it is.
 */
export const harmless = (text: string): string => (/^[=@\t\r]|^[+-](?![\d\s().,-]*$)/.test(text) ? `'${text}` : text)
