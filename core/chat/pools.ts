import type { Lane } from '#core/routing/plan'

/** Whom a conversation is handed to beside a member: the people of a lane of the routing plan, whoever of them takes it first. */
const PREFIX = 'pool.'
export const toPool = (lane: string): string => PREFIX + lane
/** The key of the lane that is meant; null: no lane. */
export const poolOf = (to: string): string | null => (to.startsWith(PREFIX) ? to.slice(PREFIX.length) : null)

type Pool = Pick<Lane, 'key' | 'pool'>
/** Who is in a lane; everybody, where it is there no more. */
export function inPool<M extends { id: string }>(lanes: readonly Pool[], pool: string | null, members: M[]): M[] {
  const lane = lanes.find(l => l.key === pool)
  return lane ? members.filter(m => lane.pool.some(s => s.member === m.id)) : members
}
/** The lanes whose conversations are somebody else's to take. */
export const poolsWithout = (lanes: readonly Pool[], member: string): string[] =>
  lanes.filter(l => l.pool.length && !l.pool.some(s => s.member === member)).map(l => l.key)
