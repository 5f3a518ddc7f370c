/**
 * An error for the log: what kind it is and where it was met, never what it says. Messages of the database, of the mail server and
 * of parsers quote what people typed.
 */
export function unworded(error: unknown): string {
  const e = error as {
    name?: string
    code?: string
    responseCode?: number
    table_name?: string
    constraint_name?: string
    stack?: string
  } | null
  const frames = (e?.stack ?? '')
    .split('\n')
    .filter(line => /^\s+at /.test(line))
    .slice(0, 12)
  return [[e?.name ?? 'Error', e?.code, e?.responseCode, e?.table_name, e?.constraint_name].filter(Boolean).join(' '), ...frames].join('\n')
}

/** The same in a few words, for what goes on. */
export const briefly = (error: unknown): string => unworded(error).split('\n')[0]!

/** Why some work came to no end, for whoever asked for it: a RangeError is thrown in words meant for them, anything else is a fault of ours. */
export const whyItFailed = (error: unknown): string =>
  error instanceof RangeError ? error.message : `Something went wrong here (${briefly(error)}). Try again in a moment.`

/** An address without its query, in which people search for people. */
export const pathOnly = (path: string): string => path.split('?')[0]!

/**
 * Sees to it that what nobody caught is told in the words of `unworded`: by itself Node writes down all that an error holds.
 * @param after what to do then
 */
export function tellUncaught(after: (error: unknown) => void = () => {}): void {
  for (const kind of ['unhandledRejection', 'uncaughtException'] as const) {
    process.removeAllListeners(kind)
    process.on(kind as 'uncaughtException', error => {
      console.error(`${kind}: ${unworded(error)}`)
      after(error)
    })
  }
}
