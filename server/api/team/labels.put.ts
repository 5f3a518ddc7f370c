import { defineEventHandler } from 'h3'
import { labelFlaws, labelKey, LabelList } from '#core/scoring/label-list'
import { vocabulary } from '#db/house'
import { lockLabels, saveLabels, takeOverAgain, usesOfLabel } from '#db/labels'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

/** Names, order, from where on somebody is qualified, and what is promised; at once. One that is in use does not go. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit scorecard')
  const { labels } = await readChecked(event, LabelList)
  const { sql } = applicationContext()
  await sql.begin(async tx => {
    await lockLabels(tx)
    const before = (await vocabulary(tx)).labels
    const flaws = labelFlaws(labels, before)
    if (flaws.length) throw problem(422, flaws.map(f => f.message).join(' '), flaws)
    for (const gone of before.filter(b => !labels.some(l => l.key === b.key))) {
      const { leads, inCard, points } = await usesOfLabel(tx, gone.key)
      const uses = [
        leads && `${leads} ${leads === 1 ? 'lead carries' : 'leads carry'} it`,
        inCard && 'it has an area on the scorecard',
        points.length && `${points.map(p => `“${p}”`).join(', ')} ${points.length === 1 ? 'gives' : 'give'} it`,
      ].filter(Boolean)
      if (uses.length) throw problem(409, `“${gone.name}” is in use: ${uses.join('; ')}. Take it out there first, or give it another name.`)
    }
    const taken = new Set(before.map(b => b.key))
    const all = labels.map((l, i) => {
      const key = l.key ?? labelKey(l.name, taken)
      taken.add(key)
      return { key, name: l.name.trim(), rank: i + 1, qualified: l.qualified, responseTarget: l.responseTarget }
    })
    await saveLabels(tx, all)
    const order = (some: { key: string }[]) =>
      some
        .map(l => l.key)
        .filter(key => before.some(b => b.key === key))
        .join()
    // Which of two areas counts is a matter of their order.
    if (order(all) !== order(before.filter(b => all.some(l => l.key === b.key)))) await takeOverAgain(tx)
  })
  await changed({ scorecard: true, properties: true, leads: true })
  await say(sql, { jobs: true })
  return { labels: (await vocabulary(sql)).labels }
})
