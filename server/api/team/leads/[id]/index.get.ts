import { defineEventHandler } from 'h3'
import { answerText, type Answers, type Question } from '#core/points/definition'
import type { Property } from '#core/properties/kinds'
import { foldVisit } from '#core/trail/visits'
import { claimsOf } from '#db/claims'
import { leadById } from '#db/leads'
import { listsOf } from '#db/lists'
import { needsOf } from '#core/leads/needs'
import { besideLeads } from '#db/beside'
import { timelineOf, type TimelineRow, type VisitRow } from '#db/timeline'
import { visitorsOfLead } from '#db/trail'
import { applicationContext } from '#server/application-context'
import { withAnswers } from '#server/follow-up/answers'
import { leadView } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** A visit stands in the timeline with its pages, what was typed with the words of its questions. */
function folded(row: TimelineRow, properties: Property[]) {
  if (row.kind === 'unfinished') {
    const { definition, answers, ...rest } = row.payload as { definition: Question[] | null; answers: Answers }
    const asked = (key: string) => definition?.find(q => q.key === key)
    return { ...row, payload: { ...rest, answers: Object.entries(answers).sort(([a], [b]) => (definition ?? []).findIndex(q => q.key === a) - (definition ?? []).findIndex(q => q.key === b)).map(([key, answer]) => ({ question: asked(key)?.label ?? properties.find(p => p.key === key)?.label ?? key, text: asked(key) ? answerText(asked(key)!, answer) : [answer].flat().join(', ') })) } }
  }
  if (row.kind !== 'visit') return row
  const { trail, ...visit } = row.payload as unknown as VisitRow
  return { ...row, payload: { ...visit, pages: foldVisit(trail) } }
}

const SOURCES = needsOf([{ attribute: 'source.first', is: 'filled' }])

/** As much as anybody reads before they ask for more. */
const FIRST = 60

/** A lead with the newest part of its timeline. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const id = idFrom(event)
  const [row, timeline, lists, browsers, sources, claims] = await Promise.all([leadById(sql, id), timelineOf(sql, id, null, FIRST).then(lines => withAnswers(sql, lines)), listsOf(sql, id), visitorsOfLead(sql, id), besideLeads(sql, sql`select ${id}::uuid as id`, SOURCES, Date.now()).then(found => found.get(id)?.visits), claimsOf(sql, id)])
  if (!row) throw problem(404, 'There is no such lead.')
  const ruleset = await cache.ruleset()
  return { lead: leadView(row, ruleset, Date.now()), timeline: timeline.map(line => folded(line, ruleset.properties)), lists, browsers, sources: { first: sources?.first?.source ?? null, latest: sources?.latest?.source ?? null }, claims: claims.map(c => ({ id: c.id, address: c.address, at: c.claimedAt, confirmed: c.confirmedAt !== null })) }
})
