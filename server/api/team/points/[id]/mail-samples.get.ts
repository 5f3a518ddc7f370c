import { defineEventHandler } from 'h3'
import { DateTime } from 'luxon'
import { mailsOf } from '#core/actions/edit'
import { withAnswers, type MailSample } from '#core/mails/sample'
import { answerText, type Answers } from '#core/points/definition'
import { quizTexts } from '#core/points/mails'
import { judgedBy } from '#core/quiz/judge'
import { expanded } from '#core/segments/segment'
import { respondentsBefore } from '#db/results'
import { holdsForLead } from '#db/segments'
import { applicationContext } from '#server/application-context'
import { requirePoint } from '#server/capture/editing'
import { entriesOf, ofAll } from '#server/results/read'
import { memberOf } from '#server/session'

const MOST = 8

/** The latest who answered a form, for whom its mails can be shown: what placeholders stand for, and which mails of the working copy fit them. */
export default defineEventHandler(async (event): Promise<MailSample[]> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const point = await requirePoint(event)
  const ruleset = await cache.ruleset()
  const today = DateTime.now().setZone(ruleset.house.zone)
  const of = entriesOf(point, { from: today.minus({ days: 365 }).toISODate()!, to: today.toISODate()! }, ruleset)
  const questions = ofAll(point.workingCopy.questions, ruleset)
  const mails = mailsOf(point.workingCopy)
  const made = (answers: Answers) => judgedBy(point.workingCopy, answers)
  const fits = async (lead: string, answers: Answers) => {
    const found = await Promise.all(
      mails.map(async ({ key, when }) =>
        !when || (await holdsForLead(sql, withAnswers(expanded(when, ruleset.segments), answers, made(answers)), lead, Date.now()))
          ? [key]
          : [],
      ),
    )
    return point.workingCopy.mailing.which === 'first' ? found.flat().slice(0, 1) : found.flat()
  }
  const rows = await respondentsBefore(sql, of, null, MOST)
  return await Promise.all(
    rows.map(async r => {
      const name = [r.firstName, r.lastName].filter(Boolean).join(' ')
      return {
        id: r.id,
        who: name || r.email || 'Somebody without a name',
        lead: {
          first_name: r.firstName ?? '',
          last_name: r.lastName ?? '',
          name: name || (r.email ?? ''),
          company: r.company ?? '',
          email: r.email ?? '',
        },
        answer: Object.fromEntries(
          questions.flatMap(q =>
            r.answers[q.key] === undefined ? [] : [[q.key, answerText(q, r.answers[q.key]!, point.workingCopy.language)]],
          ),
        ),
        quiz: quizTexts(
          { ...point.workingCopy, questions },
          { judged: made(r.answers), answers: r.answers, language: point.workingCopy.language },
        ),
        fits: await fits(r.leadId, r.answers),
      }
    }),
  )
})
