import { DateTime } from 'luxon'
import { defineEventHandler, getQuery } from 'h3'
import { nameOf } from '#core/leads/lead'
import { talksBetween } from '#db/conversations'
import { applicationContext } from '#server/application-context'
import { talksAsked } from '#server/chat/asked'
import { tableReadings } from '#server/database'
import { memberOf } from '#server/session'
import { ownAddress } from '#server/settings'
import { formatOf, sendSheets } from '#server/take-away/send'

const MOST = 100_000
const COLUMNS = [
  'Began',
  'Chat',
  'By',
  'State',
  'Person',
  'E-mail',
  'Asked for a person',
  'Promised by',
  'First answer',
  'Who answered',
  'Ended',
  'Rating (1 to 5)',
  'What they said',
  'Lines',
  'Page',
  'Conversation',
]

/** The conversations of some days to take away: `as` csv or xlsx, `days`, `point`. What was said in them stays here. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { as, ...query } = getQuery(event)
  const format = formatOf(as as string | undefined)
  const { since, point } = talksAsked(query)
  const { house, members } = await applicationContext().cache.ruleset()
  const rows = await talksBetween(tableReadings(), since, point, MOST)
  const at = (moment: Date | null) => moment && DateTime.fromJSDate(moment, { zone: house.zone }).toFormat('yyyy-MM-dd HH:mm')
  const name = (id: string | null) => (id === null ? null : (members.get(id)?.name ?? 'somebody who has left'))
  return sendSheets(event, format, 'Conversations', [
    {
      name: 'Conversations',
      columns: COLUMNS,
      rows: rows.map(r => [
        at(r.beganAt),
        r.point,
        r.beganBy,
        r.state,
        r.leadId === null ? null : nameOf({ firstName: r.firstName, lastName: r.lastName, email: r.email, properties: {} }),
        r.email,
        at(r.askedAt),
        at(r.dueAt),
        at(r.answeredAt),
        name(r.answeredBy),
        at(r.endedAt),
        r.rating,
        r.ratingText,
        r.last,
        r.page,
        `${ownAddress()}/follow-up/conversations?of=${r.id}`,
      ]),
    },
  ])
})
