import type { Via } from '#core/capture/intake'
import { ALWAYS_OPEN } from '#core/points/closing'
import { takeFromReview } from '#db/review'
import type { Sql } from '#db/client'
import { releaseFiles } from '#db/files'
import { noticesOf } from '#db/steps'
import { editionOf, pointById } from '#db/points'
import { accept } from '#server/ingest/entries'
import { retried } from '#server/ingest/micro-batcher'
import { receive } from '#server/capture/receive'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/**
 * Lets an entry in that was held or refused: it goes the whole way as if it had come now,
 * against the edition it was shown, and no guard looks at it again.
 * @returns the lead it made or found
 * @throws 404 when somebody else has dealt with it, 422 when it does not fit its form
 */
export async function approve(sql: Sql, ruleset: Ruleset, id: string): Promise<string> {
  const now = await retried(() =>
    sql.begin(async tx => {
      const files = await releaseFiles(tx, id)
      const review = await takeFromReview(tx, id)
      if (!review) throw problem(404, 'This entry is not waiting any more. Somebody else has dealt with it.')
      const point = await pointById(tx, review.pointId)
      const edition = await editionOf(tx, review.pointId, review.edition)
      const { intake, flaws } = receive(
        point!,
        {
          answers: Object.fromEntries(Object.entries(review.answers).filter(([key]) => !files.some(f => f.question === key))),
          page: review.page,
          referrer: review.referrer,
          utm: review.utm,
          visitor: review.visitorId,
          via: review.via as Via,
          took: null,
          language: review.language,
        },
        review.idempotencyKey,
        Date.now(),
        {
          reading: ruleset.reading,
          edition: edition ?? null,
          files: files.map(f => ({ ...f, sha256: f.sha256.toString('hex'), content: null })),
        },
      )
      if (!intake) throw problem(422, 'This entry cannot be let in: its answers do not fit its form.', flaws)
      const { people, guards } = intake.edition.definition
      intake.edition.definition = {
        ...intake.edition.definition,
        people: { ...people, unknown: 'create' },
        guards: { ...guards, hold: false },
        closing: ALWAYS_OPEN,
      }
      const [result] = await accept(tx, ruleset, [{ ...intake, entryId: review.id }], { mails: true })
      if (result?.kind !== 'accepted') throw problem(409, 'This entry came in another way meanwhile.')
      return result.now
    }),
  )
  await say(sql, { leads: [now.lead.id], notices: noticesOf(now).map(n => n.to), jobs: true, review: true })
  return now.lead.id
}
