import type { IncomingFile, Intake } from '#core/capture/intake'
import type { Case, ForReview } from '#core/capture/case'
import type { Flaw } from '#core/flaws'
import { nameOf } from '#core/leads/lead'
import { answersInWords } from '#core/points/in-words'
import { scoreAt } from '#core/scoring/lines'
import type { RehearsalView } from '#core/team'
import type { Point } from '#db/points'
import { accept } from '#server/ingest/entries'
import { applicationContext } from '#server/application-context'
import { receive } from '#server/capture/receive'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/**
 * A test entry: goes the whole way through the working copy as it stands, on what is in the database, up to where it would be
 * written. It reads only: nothing of it counts anywhere, and nobody waits for it.
 * @throws 422 with what is wrong with the answers, as visitors would be told
 */
export async function rehearse(point: Point, answers: Record<string, unknown>): Promise<RehearsalView> {
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const at = Date.now()
  const rehearsed = asLive(point, at)
  const { intake, flaws } = receive(rehearsed, { answers, via: 'program', page: null }, null, at, {
    reading: ruleset.reading,
    files: standInFiles(rehearsed, at),
  })
  if (!intake) throw refused(flaws)
  const [result] = await sql
    .begin('read only', async tx => ({ rows: await accept(tx, ruleset, [intake], { mails: false, rehearsed: true }) }))
    .then(({ rows }) => rows)
  if (result?.kind === 'to review') return reviewed(result.review, intake)
  if (result?.kind === 'closed') throw problem(422, `A visitor would read now: ${result.text}`)
  if (result?.kind !== 'accepted') throw problem(409, 'The same was sent just now. Change an answer, or wait a minute.')
  return viewOf(result.now, ruleset)
}

/** A point as if its working copy were live. */
const asLive = (point: Point, at: number): Point => ({
  ...point,
  live: {
    id: newId(at),
    number: (point.live?.number ?? 0) + 1,
    revision: point.revision,
    madeAt: new Date(at),
    madeBy: null,
    definition: point.workingCopy,
  },
})

const reviewed = ({ state, reason }: ForReview, { email }: Intake) =>
  ({
    review: { state, reason },
    person: { known: false, name: email?.address ?? 'Somebody', email: email?.address ?? null, lead: null },
  }) as RehearsalView

/** Files are not tried: a made-up one stands in for each that is asked for. */
const standInFiles = (point: Point, at: number): IncomingFile[] =>
  point
    .live!.definition.questions.filter(q => q.kind === 'file')
    .flatMap(q =>
      Array.from({ length: Math.max(1, Number(q.limits.least ?? 1)) }, (_, n) => ({
        id: newId(at),
        question: q.key,
        name: `made-up-${n + 1}.pdf`,
        type: 'application/pdf',
        size: 1,
        sha256: '00',
        content: Buffer.from('x'),
      })),
    )

const refused = (flaws: Flaw[]) => problem(422, 'A visitor would be told that some answers are missing or wrong.', flaws)

/** What a quiz came to. */
function resultIn({ judged, edition: { definition } }: Intake): NonNullable<RehearsalView['result']> {
  const { quiz } = definition
  const title = quiz!.results.find(r => r.key === judged!.result)?.title ?? ''
  return { title, marks: quiz!.kind === 'marks' ? { earned: judged!.earned / 100, possible: judged!.possible / 100 } : null }
}

function viewOf(now: Case, ruleset: Ruleset): RehearsalView {
  const { lead, intake, known } = now
  const { entry, label, owner } = now.changes
  const score = scoreAt(lead.reasons, intake.at, ruleset.scorecard.halfLifeDays)
  return {
    review: null,
    person: { known, name: nameOf(lead), email: lead.email, lead: known ? lead.id : null },
    changed: entry?.changed ?? [],
    result: intake.judged && resultIn(intake),
    tags: lead.tags,
    agreed: now.consents.map(c => c.words),
    fit: score.fit,
    interest: score.interest,
    reasons: score.reasons,
    label: lead.label,
    because: label?.because ?? null,
    owner: lead.ownerId ? (ruleset.members.get(lead.ownerId)?.name ?? null) : null,
    lane: owner?.lane ?? null,
    ownerBy: owner?.by ?? null,
    nextStep: now.changes.next_step ? { text: lead.nextStep!, due: new Date(lead.nextStepAt!).toISOString() } : null,
    notified: now.notified.map(t => ({ to: ruleset.members.get(t.to)?.name ?? '', subject: t.subject })),
    mails: now.mails.map(l => ({ kind: l.kind, subject: l.subject, text: l.text, days: l.days, waits: l.due === null })),
    mail: now.announcement && {
      subject: now.announcement.subject,
      text: now.announcement.text,
      lines: answersInWords(intake.edition.definition.questions, intake.answers).map(({ label, text }) => ({ label, text })),
    },
  }
}
