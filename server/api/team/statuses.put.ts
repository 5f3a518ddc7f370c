import { defineEventHandler } from 'h3'
import { StatusList, statusFlaws } from '#core/follow-up/statuses'
import { labelKey } from '#core/scoring/label-list'
import { vocabulary } from '#db/house'
import { leadsByStatus, lockStatuses, saveStatuses } from '#db/statuses'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

/** Names, order, stages, what each asks for; at once. The leads of one that is given up go where that was said. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit statuses')
  const list = await readChecked(event, StatusList)
  const { sql } = applicationContext()
  await sql.begin(async tx => {
    await lockStatuses(tx)
    const words = await vocabulary(tx)
    const flaws = statusFlaws(list, words.statuses, await leadsByStatus(tx))
    if (flaws.length) throw problem(422, flaws.map(f => f.message).join(' '), flaws)
    const gone = words.statuses.filter(b => !list.statuses.some(s => s.key === b.key))
    const taken = new Set([...words.statuses, ...(words.joinedStatuses ?? [])].map(b => b.key))
    const all = list.statuses.map((s, i) => {
      const key = s.key ?? labelKey(s.name, taken)
      taken.add(key)
      return { key, name: s.name.trim(), rank: i + 1, stage: s.stage, asks: s.asks, reasons: s.reasons.map(r => r.trim()) }
    })
    // Nobody is in it: what was it before is named by the first that is like it, or the first of all.
    const like = (key: string) => all.find(s => s.stage === words.statuses.find(b => b.key === key)?.stage) ?? all[0]!
    await saveStatuses(tx, all, Object.fromEntries(gone.map(g => [g.key, list.moves?.[g.key] ?? like(g.key).key])))
  })
  await changed({ properties: true, leads: true })
  await say(sql, { jobs: true })
  return { statuses: (await vocabulary(sql)).statuses }
})
