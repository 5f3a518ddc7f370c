/** The version of points' definitions that is written; earlier ones are read. */
export const DEFINITION_VERSION = 3
/** The same of pages. */
export const PAGE_VERSION = 2

type Plain = Record<string, unknown>
const isRecord = (value: unknown): value is Plain => typeof value === 'object' && value !== null && !Array.isArray(value)
const under = (names: Record<string, string>, record: Plain) =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [names[key] ?? key, value]))

/** What version 1 called otherwise. */
const RENAMED: Record<string, string> = { look: 'theme', appears: 'display', letters: 'mails', wordings: 'variants' }

/** Version 1 had other names. */
function renamed({ version: _, ...rest }: Plain): Plain {
  const now: Plain = { ...under(RENAMED, rest), version: 2 }
  if (Array.isArray(now.mails))
    now.mails = now.mails.map(mail => (isRecord(mail) ? under({ unlessFollowed: 'unlessClicked' }, mail) : mail))
  return now
}

/** Up to version 2 each thing that a point did afterwards had its own place. What is wrong stays wrong, for whoever checks it. */
function withActions({ afterwards = {}, mails = [], ...rest }: Plain): Plain {
  if (!isRecord(afterwards) || !Array.isArray(mails)) return { ...rest, version: 3, actions: isRecord(afterwards) ? mails : afterwards }
  const { label, tags, lists, owner, nextStep, tell, ...others } = afterwards
  const listed = (value: unknown) => (Array.isArray(value) && value.length === 0 ? null : value)
  const actions: unknown[] = [
    ...some('label', label, { label }),
    ...some('tag', listed(tags), { tags }),
    ...some('list', listed(lists), { lists }),
    ...some('owner', owner, { owner }),
    ...some('next_step', nextStep, isRecord(nextStep) ? nextStep : { text: nextStep }),
    ...some('tell', Array.isArray(tell) ? null : tell, { members: tell }),
    ...(Array.isArray(tell) ? tell.map(one => (isRecord(one) ? { ...one, kind: 'tell' } : one)) : []),
    ...mails.map(one => (isRecord(one) ? { ...one, kind: 'mail' } : one)),
    ...(Object.keys(others).length ? [{ key: 'others', kind: 'tag', tags: [], ...others }] : []),
  ]
  return { ...rest, version: 3, actions: withOwnKeys(actions) }
}
const some = (kind: string, value: unknown, says: Plain) => (value === undefined || value === null ? [] : [{ key: kind, kind, ...says }])

/** Of two with the same key, which stood in different places, the later one gets another. */
function withOwnKeys(actions: unknown[]): unknown[] {
  const taken = new Set<unknown>()
  return actions.map(action => {
    if (!isRecord(action)) return action
    let { key } = action
    for (let n = 2; taken.has(key) && typeof key === 'string'; n++) key = `${String(action.key)}_${n}`
    taken.add(key)
    return { ...action, key }
  })
}

/**
 * Brings a point's definition that was written down by an earlier Cavlin to the version of this one. What is none comes back as it
 * is, for whoever checks it.
 */
export function upgraded(plain: unknown): unknown {
  if (!isRecord(plain)) return plain
  const second = plain.version === 1 ? renamed(plain) : plain
  return second.version === 2 ? withActions(second) : second
}
/** The same for a page. */
export const upgradedPage = (plain: unknown): unknown => (isRecord(plain) && plain.version === 1 ? renamed(plain) : plain)
