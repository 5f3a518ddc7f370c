import { problem } from '#server/problem'

const DAY = 86_400_000

/** Which conversations a query asks for. @throws 422 */
export function talksAsked({ days = '30', point }: Record<string, unknown>): { since: Date; point: string | null } {
  if (!/^\d{1,4}$/.test(String(days)) || Number(days) < 1)
    throw problem(422, '“days” is a number from 1 to 9999.', [{ field: 'days', message: 'A number from 1 to 9999.' }])
  if (point !== undefined && !/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(String(point)))
    throw problem(422, '“point” is the id of a chat.', [{ field: 'point', message: 'The id of a chat.' }])
  return { since: new Date(Date.now() - Number(days) * DAY), point: point === undefined ? null : String(point) }
}
