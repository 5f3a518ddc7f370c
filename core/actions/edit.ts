import type { Action, ActionName, ActionOf } from '#core/actions/shapes'

/** What has actions: a point's definition. */
interface Doing {
  actions: Action[]
}

/** The actions of a kind, in their order. */
export const actionsOf = <K extends ActionName>({ actions }: Doing, kind: K): ActionOf<K>[] =>
  actions.filter((a): a is Extract<Action, { kind: K }> => a.kind === kind) as unknown as ActionOf<K>[]
/** The action of a kind of which there is one at most for everybody. */
export const actionOf = <K extends ActionName>(doing: Doing, kind: K): ActionOf<K> | undefined => actionsOf(doing, kind).find(a => !a.when)
export const mailsOf = (doing: Doing): ActionOf<'mail'>[] => actionsOf(doing, 'mail')

/** Takes an action out. */
export const withoutAction =
  (key: string) =>
  <D extends Doing>(doing: D): D => ({ ...doing, actions: doing.actions.filter(a => a.key !== key) })
/** Lets an action say something else. */
export const changedAction =
  <A extends Action>(key: string, change: Partial<Omit<A, 'key' | 'kind'>>) =>
  <D extends Doing>(doing: D): D => ({ ...doing, actions: doing.actions.map(a => (a.key === key ? { ...a, ...change } : a)) })

/** With one more. Its key is made of its kind, and no other has it. */
export function addedAction<K extends ActionName, D extends Doing>(doing: D, kind: K, says: Omit<ActionOf<K>, 'key' | 'kind'>): D {
  const taken = doing.actions.map(a => a.key)
  let key: string = kind
  for (let n = 2; taken.includes(key); n++) key = `${kind}_${n}`
  return { ...doing, actions: [...doing.actions, { key, kind, ...says } as unknown as Action] }
}
/** Sets the one action of a kind. @param says null: there is none any more */
export function withTheAction<K extends ActionName, D extends Doing>(doing: D, kind: K, says: Omit<ActionOf<K>, 'key' | 'kind'> | null): D {
  const there = actionOf(doing, kind) as Action | undefined
  if (!there) return says ? addedAction(doing, kind, says) : doing
  return says ? changedAction(there.key, says as never)(doing) : withoutAction(there.key)(doing)
}

/** Whether an action is for those only who come to a result of a quiz. */
const isFor = (action: Action, result: string): boolean =>
  Boolean(
    action.when &&
    'attribute' in action.when &&
    action.when.attribute === 'quiz.result' &&
    action.when.is === 'equal' &&
    action.when.value === result,
  )
/** The action of a kind for those who come to a result of a quiz. */
export const actionFor = <K extends ActionName>(doing: Doing, kind: K, result: string): ActionOf<K> | undefined =>
  actionsOf(doing, kind).find(a => isFor(a as Action, result))
/** Sets it. @param says null: there is none any more */
export function withActionFor<K extends ActionName, D extends Doing>(
  doing: D,
  kind: K,
  result: string,
  says: Omit<ActionOf<K>, 'key' | 'kind' | 'when'> | null,
): D {
  const there = actionFor(doing, kind, result) as Action | undefined
  const when = { attribute: 'quiz.result', is: 'equal' as const, value: result }
  if (!there) return says ? addedAction(doing, kind, { ...says, when } as never) : doing
  return says ? changedAction(there.key, says as never)(doing) : withoutAction(there.key)(doing)
}
