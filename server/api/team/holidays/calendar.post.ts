import { defineEventHandler, getQuery } from 'h3'
import { DateTime } from 'luxon'
import { addHoliday, holidaysOf } from '#db/house'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { holidaysIn } from '#server/routing/holidays-file'
import { memberOf } from '#server/session'
import { readText } from '#server/wire'

const MOST = 500
const MOST_BYTES = 1_000_000

/** Whole days out of an iCalendar file become days off of the firm; `?look=true` only says which they would be. Days that are there already stay. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  const { sql, cache } = applicationContext()
  const { zone } = (await cache.ruleset()).house
  const read = holidaysIn(await readText(event, MOST_BYTES), DateTime.now().setZone(zone).toISODate()!)
  if (!read) throw problem(422, 'This is no calendar file. Choose one that ends in .ics.')
  if (!read.days.length) throw problem(422, 'No whole day that is still to come stands in this file.')
  const days = await sql.begin(async tx => {
    const there = new Set((await holidaysOf(tx)).map(h => `${h.from} ${h.until}`))
    const found = read.days.map(day => ({ ...day, isNew: !there.has(`${day.from} ${day.until}`) }))
    const fresh = found.filter(d => d.isNew)
    if (there.size + fresh.length > MOST) throw problem(409, `At most ${MOST} are kept. Take away those that are over.`)
    if (getQuery(event).look !== 'true') for (const { from, until, name } of fresh) await addHoliday(tx, { id: newId(), from, until, name })
    return found
  })
  if (getQuery(event).look !== 'true') await changed({ site: true, colleagues: true })
  return { days, passed: read.passed }
})
