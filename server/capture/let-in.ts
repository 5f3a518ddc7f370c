import type { Via } from '#core/capture/case'
import { ALWAYS_OPEN } from '#core/points/closing'
import { takeAside } from '#db/asides'
import { releaseFiles } from '#db/files'
import { noticesOf } from '#db/capture'
import { editionOf, pointById } from '#db/points'
import { accept } from '#server/capture/accept'
import { applicationContext } from '#server/application-context'
import { receive } from '#server/capture/receive'
import { say } from '#server/live/say'
import { problem } from '#server/problem'

/**
 * Lets an entry in that was held or refused: it goes the whole way as if it had come now,
 * against the edition it was shown, and no guard looks at it again.
 * @returns the lead it made or found
 * @throws 404 when somebody else has dealt with it
 */
export async function letIn(id: string): Promise<string> {
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = await sql.begin(async (tx) => {
    const files = await releaseFiles(tx, id)
    const aside = await takeAside(tx, id)
    if (!aside) throw problem(404, 'This entry is not waiting any more. Somebody else has dealt with it.')
    const point = await pointById(tx, aside.pointId)
    const edition = await editionOf(tx, aside.pointId, aside.edition)
    const { intake, flaws } = receive(point!, {
      answers: Object.fromEntries(Object.entries(aside.answers).filter(([key]) => !files.some(f => f.question === key))), page: aside.page, referrer: aside.referrer, utm: aside.utm, visitor: aside.visitorId, via: aside.via as Via, took: null,
    }, aside.idempotencyKey, Date.now(), { reading: ruleset.reading, edition: edition ?? null, files: files.map(f => ({ ...f, sha256: f.sha256.toString('hex'), content: null })) })
    if (!intake) throw problem(422, 'This entry cannot be let in: its answers do not fit its form.', flaws)
    intake.edition.definition = { ...intake.edition.definition, people: { ...intake.edition.definition.people, unknown: 'create' }, closing: ALWAYS_OPEN }
    const [result] = await accept(tx, ruleset, [{ ...intake, entryId: aside.id }], { mails: true })
    if (result?.kind !== 'accepted') throw problem(409, 'This entry came in another way meanwhile.')
    return result.now
  })
  await say(sql, { leads: [now.lead.id], members: noticesOf(now).map(n => n.to), jobs: true, asides: true })
  return now.lead.id
}
