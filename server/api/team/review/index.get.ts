import { defineEventHandler } from 'h3'
import { answerText } from '#core/points/definition'
import type { ReviewView } from '#core/team'
import { review } from '#db/review'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'

/** What was held or refused lately, newest first. */
export default defineEventHandler(async (event): Promise<ReviewView[]> => {
  await memberOf(event, 'judge entries')
  const { sql, cache } = applicationContext()
  return Promise.all((await review(sql, 200)).map(async (row) => {
    const point = await cache.point(row.pointKey)
    const questions = (point && await cache.edition(point, row.edition))?.definition.questions ?? []
    const asked = questions.filter(q => row.answers[q.key] !== undefined)
    const email = questions.find(q => q.property === 'email')
    return {
      id: row.id, at: row.at.toISOString(), state: row.state, reason: row.reason, point: row.point, pointId: row.pointId, edition: row.edition, page: row.page,
      email: email ? String(row.answers[email.key] ?? '') || null : null, answers: asked.map(q => ({ question: q.label, text: answerText(q, row.answers[q.key]!) })),
    }
  }))
})
