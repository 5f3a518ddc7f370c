import { completedPage } from '#core/pages/schema'
import type { PageDefinition } from '#core/pages/definition'
import { completed } from '#core/points/shapes/definition'
import type { PointDefinition } from '#core/points/definition'
import type { Sql } from '#db/client'
import { insertOwn } from '#db/deliveries'
import { dueToGoLive, goLive, keptFromLive } from '#db/going-live'
import { stopsNow } from '#server/capture/stops'
import { fillKeys } from '#server/capture/keys'
import { newId } from '#server/ids'
import { readRuleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'

/**
 * Lets go live what is due, each in a transaction of its own. What may not any more stays as it is, and whoever planned it is told by mail.
 * @returns the points that changed
 */
export async function goLiveDue(sql: Sql, now: Date): Promise<string[]> {
  const changed: string[] = []
  for (;;) {
    const id = await sql.begin(async tx => {
      const due = await dueToGoLive(tx, now)
      if (!due) return null
      const definition =
        due.kind === 'page' ? completedPage(due.definition as PageDefinition) : completed(due.definition as PointDefinition)
      const [stop] = await stopsNow(sql, await readRuleset(sql), due, definition)
      if (!stop) {
        await goLive(tx, { id: due.id, edition: newId(now.getTime()), at: now })
        if (due.kind !== 'page') await fillKeys(tx, (definition as PointDefinition).people.same)
        return due.id
      }
      await keptFromLive(tx, due.id, stop.message)
      if (due.by)
        await insertOwn(tx, {
          id: newId(),
          kind: 'alert',
          to: { name: due.by.name, address: due.by.email },
          subject: `“${due.name}” could not go live`,
          text: `It was to go live by itself now, and could not:\n\n${stop.message}\n\nMend it, and make it live: ${ownAddress()}/capture/${due.kind === 'page' ? 'pages' : 'points'}/${due.id}`,
        })
      return due.id
    })
    if (!id) return changed
    changed.push(id)
  }
}
