import { defineEventHandler, getQuery } from 'h3'
import type { TalkRow } from '#core/chat/figures'
import { talksBetween } from '#db/conversations'
import { tableReadings } from '#server/database'
import { talksAsked } from '#server/chat/asked'
import { memberOf } from '#server/session'

const MOST = 20_000

/** The conversations of some days, as figures need them: `?days=30`, of one chat with `&point=ID`. */
export default defineEventHandler(async (event): Promise<{ talks: TalkRow[]; more: boolean }> => {
  await memberOf(event)
  const { since, point } = talksAsked(getQuery(event))
  const rows = await talksBetween(tableReadings(), since, point, MOST + 1)
  const ms = (at: Date | null) => at?.getTime() ?? null
  return {
    more: rows.length > MOST,
    talks: rows.slice(0, MOST).map(r => ({
      id: r.id,
      began: r.beganAt.getTime(),
      by: r.beganBy,
      member: r.answeredBy,
      asked: ms(r.askedAt),
      due: ms(r.dueAt),
      answered: ms(r.answeredAt),
      ended: ms(r.endedAt),
      last: r.lastAt.getTime(),
      state: r.state,
      rating: r.rating,
      way: r.way,
    })),
  }
})
