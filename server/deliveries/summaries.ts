import { DateTime } from 'luxon'
import { count } from '#core/text'
import type { Sql } from '#db/client'
import { dueTogether, insertSummary, wentTogether } from '#db/telling'
import { newId } from '#server/ids'
import type { Ruleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'

const MOST = 1000

/** Puts together what members want to hear once an hour or once a morning. @returns how many mails were written */
export async function writeSummaries(sql: Sql, ruleset: () => Promise<Ruleset>, now: Date): Promise<number> {
  return sql.begin(async tx => {
    const rows = await dueTogether(tx, now, MOST)
    if (!rows.length) return 0
    const { members, house } = await ruleset()
    const people = [...new Set(rows.map(r => r.memberId))]
    for (const member of people) {
      const own = rows.filter(r => r.memberId === member)
      const zone = members.get(member)?.hours.zone ?? house.zone
      const lines = own.map(r => ({
        label: DateTime.fromJSDate(r.at, { zone }).toFormat('ccc HH:mm'),
        text: r.leadId ? `${r.subject}\n${ownAddress()}/follow-up/leads/${r.leadId}` : r.subject,
      }))
      const subject = own.length === 1 ? own[0]!.subject : `${own[0]!.subject}, and ${count(own.length - 1, 'more', 'more')}`
      await insertSummary(tx, {
        id: newId(),
        member,
        to: own[0]!.email,
        name: own[0]!.name,
        subject,
        body: `${count(own.length, 'thing', 'things')} came in for you.`,
        lines,
      })
    }
    await wentTogether(
      tx,
      rows.map(r => r.id),
    )
    return people.length
  })
}
