import { setResponseHeader, setResponseStatus, type H3Event } from 'h3'
import type { Intake } from '#core/capture/intake'
import { mostFiles } from '#core/points/answers'
import type { Answers, PointDefinition } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import { foreignText, strangerText } from '#core/points/refusals'
import { pointsOn } from '#core/pages/definition'
import type { Db } from '#db/client'
import { livePage, type AnyPoint, type Page, type Point } from '#db/points'
import type { Accepted } from '#server/ingest/entries'
import { limitPoint, noteCaught } from '#server/capture/attack'
import { markOf } from '#server/capture/sender'
import { nextOf, placeAfter, type NextView } from '#server/capture/next'
import { applicationContext } from '#server/application-context'
import { asksForProof, isProven, newChallenge } from '#server/capture/proof'
import { receive, shownEdition, type Received } from '#server/capture/receive'
import { inspectAnswers, type Upload } from '#server/files/inspect'
import { MOST_IN_ALL, readMultipart } from '#server/files/multipart'
import { shownAt } from '#server/hosted/at'
import { browserId } from '#server/trail/browser'
import { hostedClosed } from '#server/hosted/pages'
import { unlikeId } from '#server/ids'
import { sign } from '#server/keys'
import { problem } from '#server/problem'
import { MOST_BYTES, header, leadTo, parseJson, readText } from '#server/wire'
import { isOurOrigin } from '#server/hosts'
import { LANGUAGE_KEYS } from '#core/languages/language'
import { sayIn } from '#core/languages/say'
import { inTongue } from '#core/points/translations'
import { holds } from '#core/conditions/condition'
import { pagesOf, publicPoint } from '#core/points/definition'
import { askedOn, pageBeside } from '#core/quiz/way'
import { inTongueOf, tongueFor } from '#server/words'

const WRONG = 'Some answers are missing or wrong; see the list. Nothing was stored.'
const REUSED = 'This Idempotency-Key was used for other answers. Use a new key for a new entry.'

/** An entry that a script sent: 201 with what comes next. */
export const postedJson = async (event: H3Event, point: Point, key: string | null) => answerJson(event, point, parseJson(await readText(event)), [], key)

/** An entry with files: the fields of an ordinary form, or a script's JSON in the field `_entry`; files by question key. */
export async function postedMultipart(event: H3Event, point: Point, key: string | null) {
  const asks = point.live!.definition.questions.some(q => q.kind === 'file')
  const { fields, uploads } = await readMultipart(event, asks ? MOST_IN_ALL * 1e6 : MOST_BYTES)
  const json = fields.find(([name]) => name === '_entry')
  return json ? answerJson(event, point, parseJson(json[1]), uploads, key) : answerForm(event, point, fields, uploads, key)
}

async function answerJson(event: H3Event, point: Point, body: unknown, uploads: Upload[], key: string | null) {
  const got = await received(event, point, body, key, uploads)
  const { intake, flaws } = got
  if (!intake) throw problem(422, WRONG, flaws)
  // Only what could be an entry counts: else nonsense from a few would shut the form for everybody.
  await limitPoint(event, point.key)
  if (await lacksProof(point, intake, (body as { proof?: unknown }).proof)) throw problem(428, UNPROVEN, [], { challenge: await newChallenge(point.key) })
  const result = await accepted(intake)
  if (result.kind === 'key reused') throw problem(422, REUSED, [{ field: 'Idempotency-Key', message: REUSED }])
  if (isStranger(result)) throw problem(422, strangerText(inTongue(intake.edition.definition, intake.language).people, sayIn(intake.language)))
  if (result.kind === 'closed') throw problem(410, result.text)
  if (isForeign(result)) throw problem(403, foreignText(intake.edition.definition.guards, sayIn(intake.language)))
  setResponseStatus(event, 201)
  const told = tellable(result)
  return { entry: told.entry, next: comesNext(point, got, told) }
}

const UNPROVEN = 'This form asks for a small proof of work. Find the number that, written behind the salt, gives the challenge as its SHA-256; send the entry again with `proof`: the challenge with that `number`, as JSON in base64.'
/** Whether an entry comes without the proof that its point asks for now. What a guard caught already is not asked. */
const lacksProof = async (point: Point, intake: Intake, proof: unknown): Promise<boolean> =>
  !intake.suspect && await asksForProof(point.key, intake.edition.definition.guards) && !await isProven(point.key, proof)

async function accepted(intake: Intake): Promise<Accepted> {
  const result = await applicationContext().accept(intake)
  if (result.kind === 'to review' && ['trap', 'too_fast'].includes(result.review.reason)) await noteCaught(intake.point.key)
  return result
}

/** What may be told of an entry: one that was refused gets the usual answer, with an id that is nobody's and opens nothing. */
function tellable(result: Extract<Accepted, { entry: string }>): { entry: string; thanks: string } {
  if (result.kind !== 'to review' || result.review.state !== 'refused') return result
  return { entry: unlikeId(result.entry, Buffer.from(sign('words', `refused ${result.entry}`), 'base64url').toString('hex')), thanks: result.thanks }
}

/** What comes after an entry: as its form says, on the landing page that the form stands on where there is one. */
const comesNext = (point: Point, { intake, page }: Got, { entry, thanks }: { entry: string; thanks: string }): NextView =>
  nextOf(inTongue(intake!.edition.definition, intake!.language), { point, page }, entry, thanks, intake!)

/** A visitor whom the point does not take in is told so; what a guard caught gets the usual answer, so that machines learn nothing. */
const isStranger = (result: Accepted) => result.kind === 'to review' && result.review.state === 'refused' && result.review.reason === 'unknown_person'

const isForeign = (result: Accepted) => result.kind === 'to review' && result.review.reason === 'origin'

/** Whether a form may be sent from where it was sent. Browsers say the site; programs say nothing. */
async function isAllowed(event: H3Event, { guards }: PointDefinition): Promise<boolean> {
  const origin = header(event, 'origin')
  if (!guards.origins.length || !origin) return true
  return guards.origins.some(allowed => allowed.toLowerCase() === origin.toLowerCase()) || await isOurOrigin(origin)
}

type Got = Received & { page: Page | null }

/** The landing page that an entry says it came through, if its form stands there. */
async function pageWith(sql: Db, point: Point, slug: string): Promise<Page | null> {
  const page = await livePage(sql, slug)
  return page && pointsOn(page.live!.definition).includes(point.key) ? page : null
}

/** An entry as it came, against the edition that its visitor was shown. */
async function received(event: H3Event, point: Point, body: unknown, key: string | null, uploads: Upload[] = []): Promise<Got> {
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
  if (got.intake && !await isAllowed(event, got.intake.edition.definition)) got.intake.suspect ??= 'origin'
  return got
}

const NO_FILES = { files: [], flaws: [] }

/** The files that came, by the questions they answer. A file for no question is somebody's mistake. */
async function lookedInto({ questions }: PointDefinition, uploads: Upload[]) {
  const flaws: Flaw[] = uploads.filter(u => !questions.some(q => q.kind === 'file' && q.key === u.field)).map(u => ({ field: `answers.${u.field.slice(0, 100)}`, message: 'This form has no such question for a file.' }))
  const asked = questions.filter(q => q.kind === 'file' && uploads.some(u => u.field === q.key))
  const seen = await Promise.all(asked.map(async q => ({ q, ...await inspectAnswers(q.key, uploads.filter(u => u.field === q.key), q.files, mostFiles(q)) })))
  for (const { q, flaw } of seen) if (flaw) flaws.push({ field: `answers.${q.key}`, message: flaw })
  return { files: seen.flatMap(s => s.files), flaws }
}

/** Names that a form may send along unseen. Question keys begin with a mail, so they cannot clash. */
const UNSEEN = ['_key', '_page', '_referrer', '_visitor', '_edition', '_via', '_shown', '_homepage', '_landing', '_language', '_at', '_to']

/** An entry from a form without any script: 303 to the thank-you page, or the form again with what is wrong. */
export async function postedForm(event: H3Event, point: Point, key: string | null) {
  const typed = await readText(event)
  // Should it not be to be had just now, it comes back to be sent again.
  event.context.typed = typed
  return answerForm(event, point, new URLSearchParams(typed), [], key)
}

async function answerForm(event: H3Event, point: Point, pairs: Iterable<[string, string]>, uploads: Upload[], headerKey: string | null) {
  const several = point.live!.definition.questions.filter(q => q.kind === 'some_of').map(q => q.key)
  const { fields, unseen, flaws: doubled } = formFields(pairs, several)
  const page = unseen._page || header(event, 'referer')?.slice(0, 4000) || null
  const key = headerKey ?? (unseen._key || null)
  const shown = Number(unseen._shown)
  event.context.language = LANGUAGE_KEYS.find(l => l === unseen._language)
  if (unseen._to && point.live!.definition.quiz) return stepForm(event, point, fields, unseen)
  const got = await received(event, point, {
    answers: { ...givenByPage(point, page), ...fields }, page, referrer: unseen._referrer || null, visitor: unseen._visitor || null, edition: Number(unseen._edition) || null,
    via: unseen._via === 'plain' || unseen._via === 'frame' ? unseen._via : 'page', took: shown > 0 ? Math.min(2e9, Math.max(0, Date.now() - shown)) : null, homepage: unseen._homepage || null,
    landing: unseen._landing || null, language: event.context.language ?? null,
  }, key, uploads)
  const { intake, flaws } = got
  const wrong = [...doubled, ...flaws]
  const again = (flaws: Flaw[]) => refuseForm(event, got.page ?? point, fields, [...flaws, ...chooseAgain(point, uploads, flaws)], unseen._shown)
  if (!intake || wrong.length) return again(wrong)
  await limitPoint(event, point.key)
  if (await lacksProof(point, intake, null)) intake.suspect = 'unproven'
  const result = await accepted(intake)
  if (result.kind === 'key reused') return again([{ field: '', message: 'These answers differ from the ones you sent from this page before. Send them once more to enter them too.' }])
  if (isStranger(result)) return again([{ field: '', message: strangerText(inTongue(intake.edition.definition, intake.language).people, sayIn(intake.language)) }])
  if (result.kind === 'closed') return shut(event, point, 410, result.text)
  if (isForeign(result)) return shut(event, point, 403, foreignText(intake.edition.definition.guards, sayIn(intake.language)))
  return leadTo(event, placeAfter(inTongue(intake.edition.definition, intake.language), { point, page: got.page }, tellable(result).entry), 303)
}

/** A quiz that is asked part by part without a script: the next part, or this one again where something is missing in it. Nothing is kept. */
async function stepForm(event: H3Event, point: Point, fields: Answers, unseen: Record<string, string>) {
  const shown = inTongueOf(point, tongueFor(event, point.live!.definition))
  const pages = pagesOf(publicPoint(point.key, point.live!.number, shown.live!.definition).questions)
  const at = Math.min(pages.length - 1, Math.max(0, Number(unseen._at) || 0))
  const given = Object.fromEntries(Object.entries(fields).filter(([, answer]) => answer.length))
  const asked = new Set(askedOn(pages.flat(), given, holds))
  const missing = unseen._to === 'back' ? [] : pages[at]!.filter(q => q.required && !q.parameter && asked.has(q) && given[q.key] === undefined)
  const { words } = publicPoint(point.key, 1, shown.live!.definition)
  const flaws = missing.map(q => ({ field: `answers.${q.key}`, message: q.error || words.answer }))
  const to = flaws.length ? at : pageBeside(pages, at, unseen._to === 'back' ? -1 : 1, given, holds)
  const landing = unseen._landing ? await pageWith(applicationContext().sql, point, unseen._landing) : null
  if (flaws.length) setResponseStatus(event, 422)
  return shownAt(event, landing ?? point, { values: given, flaws, shown: unseen._shown, at: to ?? at, isLast: to === null && unseen._to !== 'back' })
}

/** A page that says why the form takes nothing. */
function shut(event: H3Event, point: Point, status: number, text: string) {
  setResponseStatus(event, status)
  return hostedClosed(event, inTongueOf(point, tongueFor(event, point.live!.definition)), text)
}

/** A browser does not keep the files that were chosen when a form comes back. */
const chooseAgain = (point: Point, uploads: Upload[], flaws: Flaw[]): Flaw[] => point.live!.definition.questions
  .filter(q => q.kind === 'file' && uploads.some(u => u.field === q.key) && !flaws.some(f => f.field === `answers.${q.key}`))
  .map(q => ({ field: `answers.${q.key}`, message: 'Choose the file once more; it does not stay when the form comes back.' }))

/** What the page's own address says of questions that it answers, for copies without a script. */
function givenByPage(point: Point, page: string | null): Answers {
  const query = page && URL.canParse(page) ? new URL(page).searchParams : new URLSearchParams()
  return Object.fromEntries(point.live!.definition.questions.flatMap(q => q.hidden?.from === 'page' && query.has(q.hidden.parameter) ? [[q.key, query.get(q.hidden.parameter)!]] : []))
}

/**
 * Answers and unseen fields out of a form post. A name that comes twice is a flaw: one of the two
 * would be lost. Only the questions in `several` may have more than one answer.
 */
export function formFields(pairs: Iterable<[string, string]>, several: string[] = []): { fields: Answers; unseen: Record<string, string>; flaws: Flaw[] } {
  const fields: Answers = Object.create(null)
  const unseen: Record<string, string> = {}
  const flaws: Flaw[] = []
  let count = 0
  for (const [name, value] of pairs) {
    if (++count > 200) return { fields, unseen, flaws: [{ field: '', message: 'At most 200 fields fit in one form.' }] }
    if (UNSEEN.includes(name)) unseen[name] = value
    else if (several.includes(name)) fields[name] = [...fields[name] ?? [], value]
    else if (name in fields) flaws.push({ field: `answers.${name.slice(0, 100)}`, message: 'This answer came twice.' })
    // Browsers send line ends as CR LF; people typed LF.
    else fields[name] = value.replace(/\r\n/g, '\n')
  }
  return { fields: { ...fields }, unseen, flaws }
}

function refuseForm(event: H3Event, at: AnyPoint, values: Answers, flaws: Flaw[], shown: string | undefined) {
  if (!(header(event, 'accept') ?? '').includes('text/html')) throw problem(422, WRONG, flaws)
  setResponseStatus(event, 422)
  setResponseHeader(event, 'content-type', 'text/html; charset=utf-8')
  return shownAt(event, at, { values, flaws, shown })
}
