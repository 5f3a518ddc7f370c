import { IsObject } from 'class-validator'
import { defineEventHandler } from 'h3'
import { writtenOut } from '#core/segments/segment'
import { leadPage } from '#db/leads'
import { theOffice } from '#server/capture/office'
import { nameOf } from '#core/leads'
import { readTests } from '#server/segments/read'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Asked {
  @IsObject() condition!: object
}
const SHOWN = 6

/** How many leads a condition holds for, of how many, and some of them: counted while somebody builds it. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { sql, cache } = theOffice()
  const { segments } = await cache.standing()
  const condition = writtenOut(readTests((await readChecked(event, Asked)).condition), segments)
  const [{ rows, total }, [all]] = await Promise.all([
    leadPage(sql, { condition }, 'interest', true, { from: 0, size: SHOWN }),
    sql<{ n: number }[]>`select count(*)::int as n from lead`,
  ])
  return { leads: total, of: all!.n, some: rows.map(row => ({ id: row.id, name: nameOf(row), company: row.company, label: row.label })) }
})
