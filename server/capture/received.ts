import type { H3Event } from 'h3'
import type { Intake } from '#core/capture/intake'
import { mostFiles } from '#core/points/answers'
import type { PointDefinition } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import { pointsOn } from '#core/pages/definition'
import type { Db } from '#db/client'
import { livePage, type Page, type Point } from '#db/points'
import { markOf } from '#server/capture/sender'
import { applicationContext } from '#server/application-context'
import { asksForProof, isProven } from '#server/capture/proof'
import { receive, shownEdition, type Received } from '#server/capture/receive'
import { inspectAnswers, type Upload } from '#server/files/inspect'
import { browserId } from '#server/trail/browser'
import { header } from '#server/wire'
import { isOurOrigin } from '#server/hosts'

/** Whether an entry comes without the proof that its point asks for now. What a guard caught already is not asked. */
export const lacksProof = async (point: Point, intake: Pick<Intake, 'suspect' | 'edition'>, proof: unknown): Promise<boolean> =>
  !intake.suspect && (await asksForProof(point.key, intake.edition.definition.guards)) && !(await isProven(point.key, proof))

/** Whether a form may be sent from where it was sent. Browsers say the site; programs say nothing. */
export async function isAllowed(event: H3Event, { guards }: PointDefinition): Promise<boolean> {
  const origin = header(event, 'origin')
  if (!guards.origins.length || !origin) return true
  return guards.origins.some(allowed => allowed.toLowerCase() === origin.toLowerCase()) || (await isOurOrigin(origin))
}

export type Got = Received & { page: Page | null }

/** The landing page that an entry says it came through, if its form stands there. */
export async function pageWith(sql: Db, point: Point, slug: string): Promise<Page | null> {
  const page = await livePage(sql, slug)
  return page && pointsOn(page.live!.definition).includes(point.key) ? page : null
}

/** An entry as it came, against the edition that its visitor was shown. */
export async function received(event: H3Event, point: Point, body: unknown, key: string | null, uploads: Upload[] = []): Promise<Got> {
  const { cache, sql } = applicationContext()
  const number = shownEdition(body)
  const landing = (body as { landing?: unknown } | null)?.landing
  const { reading } = await cache.ruleset()
  const edition = number === null ? null : await cache.edition(point, number)
  const page = typeof landing === 'string' && landing ? await pageWith(sql, point, landing) : null
  const { files, flaws } = uploads.length ? await lookedInto((edition ?? point.live!).definition, uploads) : NO_FILES
  if (flaws.length) return { intake: null, flaws, page }
  const got = { ...receive(point, body, key, Date.now(), { reading, edition, files }), page }
  if (got.intake && page) got.intake.landing = page.id
  if (got.intake) got.intake.sender = markOf(event)
  if (got.intake?.visitor) got.intake.visitor = browserId(got.intake.visitor)
  // Only an archive speaks of the past.
  if (got.intake?.via === 'archive') got.intake.via = 'program'
  if (got.intake && !(await isAllowed(event, got.intake.edition.definition))) got.intake.suspect ??= 'origin'
  return got
}

const NO_FILES = { files: [], flaws: [] }

/** The files that came, by the questions they answer. A file for no question is somebody's mistake. */
async function lookedInto({ questions }: PointDefinition, uploads: Upload[]) {
  const flaws: Flaw[] = uploads
    .filter(u => !questions.some(q => q.kind === 'file' && q.key === u.field))
    .map(u => ({ field: `answers.${u.field.slice(0, 100)}`, message: 'This form has no such question for a file.' }))
  const asked = questions.filter(q => q.kind === 'file' && uploads.some(u => u.field === q.key))
  const seen = await Promise.all(
    asked.map(async q => ({
      q,
      ...(await inspectAnswers(
        q.key,
        uploads.filter(u => u.field === q.key),
        q.files,
        mostFiles(q),
      )),
    })),
  )
  for (const { q, flaw } of seen) if (flaw) flaws.push({ field: `answers.${q.key}`, message: flaw })
  return { files: seen.flatMap(s => s.files), flaws }
}
