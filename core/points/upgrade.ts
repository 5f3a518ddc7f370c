/** The version of definitions of points and pages that is written; earlier ones are read. */
export const DEFINITION_VERSION = 2

/** What version 1 called otherwise. */
const RENAMED: Record<string, string> = { look: 'theme', appears: 'display', letters: 'mails', wordings: 'variants' }

/**
 * Brings a definition that was written down by an earlier Cavlin to the version of this one. What is no definition of version 1
 * comes back as it is, for whoever checks it.
 * @param plain a definition of a point or a page as it came, not checked yet
 */
export function upgraded(plain: unknown): unknown {
  if (!isRecord(plain) || plain.version !== 1) return plain
  const { version: _, ...rest } = plain
  const renamed: Record<string, unknown> = { ...under(RENAMED, rest), version: DEFINITION_VERSION }
  if (Array.isArray(renamed.mails))
    renamed.mails = renamed.mails.map(mail => (isRecord(mail) ? under({ unlessFollowed: 'unlessClicked' }, mail) : mail))
  return renamed
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)
const under = (names: Record<string, string>, record: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [names[key] ?? key, value]))
