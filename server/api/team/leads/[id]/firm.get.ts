import { defineEventHandler } from 'h3'
import { nameOf } from '#core/leads/lead'
import { firmOf } from '#core/routing/firm'
import type { FirmView } from '#core/team'
import { peopleOfFirm } from '#db/firms'
import { leadById, leadsById } from '#db/leads'
import { standingFor } from '#db/merges'
import { parseEmail } from '#core/identity/email'
import { applicationContext } from '#server/application-context'
import { timelineFor } from '#server/follow-up/timeline'
import { leadView } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

const MOST_PEOPLE = 200
/** What happened is told of so many of them, of each so much. */
const [TOLD_OF, LINES] = [20, 10]
const MOST_LINES = 60

/** The firm of a lead, by its name and by the domain of its people's addresses: all its people, who owns them, and what happened. */
export default defineEventHandler(async (event): Promise<FirmView> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const id = idFrom(event)
  const own = (await leadById(sql, id)) ?? (await leadById(sql, await standingFor(sql, id)))
  if (!own) throw problem(404, 'There is no such lead.')
  const ruleset = await cache.ruleset()
  const keys = firmOf({ ...own, emailKey: own.email === null ? null : (parseEmail(own.email)?.key ?? null) })
  const ids = [...new Set([own.id, ...(await peopleOfFirm(sql, keys, MOST_PEOPLE))])]
  const rows = await leadsById(sql, ids)
  const now = Date.now()
  const told = await Promise.all(
    rows.slice(0, TOLD_OF).map(async row =>
      (await timelineFor(sql, ruleset, row.id, null, LINES)).map(line => ({
        lead: { id: row.id, name: nameOf(row) },
        id: line.id,
        at: line.at,
        actor: line.actor,
        sentence: line.sentence,
      })),
    ),
  )
  return {
    name: own.company ?? keys.domain ?? nameOf(own),
    domain: keys.domain,
    people: rows.map(row => leadView(row, ruleset, now)),
    happened: told
      .flat()
      .sort((a, b) => b.at.localeCompare(a.at))
      .slice(0, MOST_LINES),
    toldOf: Math.min(rows.length, TOLD_OF),
  }
})
