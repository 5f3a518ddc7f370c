import { setResponseHeader, setResponseStatus, type H3Event } from 'h3'
import type { Intake } from '#core/capture/intake'
import type { Answers } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import { foreignText, strangerText } from '#core/points/refusals'
import type { AnyPoint, Point } from '#db/points'
import type { Accepted } from '#server/ingest/entries'
import { limitPoint, noteCaught } from '#server/capture/attack'
import { nextOf, placeAfter, type NextView } from '#server/capture/next'
import { applicationContext } from '#server/application-context'
import { newChallenge } from '#server/capture/proof'
import { finishNameless } from '#server/capture/nameless'
import { isStep, stepForm } from '#server/capture/quiz-steps'
import { lacksProof, received, type Got } from '#server/capture/received'
import type { Upload } from '#server/files/inspect'
import { MOST_IN_ALL, readMultipart } from '#server/files/multipart'
import { shownAt } from '#server/hosted/at'
import { hostedClosed } from '#server/hosted/pages'
import { unlikeId } from '#server/ids'
import { sign } from '#server/keys'
import { problem } from '#server/problem'
import { MOST_BYTES, header, leadTo, parseJson, readText } from '#server/wire'
import { LANGUAGE_KEYS } from '#core/languages/language'
import { sayIn } from '#core/languages/say'
import { inTongue } from '#core/points/translations'
import { inTongueOf, tongueFor } from '#server/words'

const WRONG = 'Some answers are missing or wrong; see the list. Nothing was stored.'
const REUSED = 'This Idempotency-Key was used for other answers. Use a new key for a new entry.'

/** An entry that a script sent: 201 with what comes next. */
export const postedJson = async (event: H3Event, point: Point, key: string | null) =>
  answerJson(event, point, parseJson(await readText(event)), [], key)

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
  if (got.nameless) {
    const { nameless } = got
    await limitPoint(event, point.key)
    if (!nameless.isSuspect && (await lacksProof(point, { suspect: null, edition: nameless.edition }, (body as { proof?: unknown }).proof)))
      throw problem(428, UNPROVEN, [], { challenge: await newChallenge(point.key) })
    const came = await finishNameless(event, point, got.page, nameless)
    setResponseStatus(event, 201)
    return { finished: came.id, next: { kind: 'result', html: came.html } satisfies NextView }
  }
  if (!intake) throw problem(422, WRONG, flaws)
  // Only what could be an entry counts: else nonsense from a few would shut the form for everybody.
  await limitPoint(event, point.key)
  if (await lacksProof(point, intake, (body as { proof?: unknown }).proof))
    throw problem(428, UNPROVEN, [], { challenge: await newChallenge(point.key) })
  const result = await accepted(intake)
  if (result.kind === 'key reused') throw problem(422, REUSED, [{ field: 'Idempotency-Key', message: REUSED }])
  if (isStranger(result))
    throw problem(422, strangerText(inTongue(intake.edition.definition, intake.language).people, sayIn(intake.language)))
  if (result.kind === 'closed') throw problem(410, result.text)
  if (isForeign(result)) throw problem(403, foreignText(intake.edition.definition.guards, sayIn(intake.language)))
  setResponseStatus(event, 201)
  const told = tellable(result)
  return { entry: told.entry, next: comesNext(point, got, told) }
}

const UNPROVEN =
  'This form asks for a small proof of work. Find the number that, written behind the salt, gives the challenge as its SHA-256; send the entry again with `proof`: the challenge with that `number`, as JSON in base64.'

async function accepted(intake: Intake): Promise<Accepted> {
  const result = await applicationContext().accept(intake)
  if (result.kind === 'to review' && ['trap', 'too_fast'].includes(result.review.reason)) await noteCaught(intake.point.key)
  return result
}

/** What may be told of an entry: one that was refused gets the usual answer, with an id that is nobody's and opens nothing. */
function tellable(result: Extract<Accepted, { entry: string }>): { entry: string; thanks: string } {
  if (result.kind !== 'to review' || result.review.state !== 'refused') return result
  return {
    entry: unlikeId(result.entry, Buffer.from(sign('words', `refused ${result.entry}`), 'base64url').toString('hex')),
    thanks: result.thanks,
  }
}

/** What comes after an entry: as its form says, on the landing page that the form stands on where there is one. */
const comesNext = (point: Point, { intake, page }: Got, { entry, thanks }: { entry: string; thanks: string }): NextView =>
  nextOf(inTongue(intake!.edition.definition, intake!.language), { point, page }, entry, thanks, intake!)

/** A visitor whom the point does not take in is told so; what a guard caught gets the usual answer, so that machines learn nothing. */
const isStranger = (result: Accepted) =>
  result.kind === 'to review' && result.review.state === 'refused' && result.review.reason === 'unknown_person'

const isForeign = (result: Accepted) => result.kind === 'to review' && result.review.reason === 'origin'

/** Names that a form may send along unseen. Question keys begin with a mail, so they cannot clash. */
const UNSEEN = [
  '_key',
  '_page',
  '_referrer',
  '_visitor',
  '_edition',
  '_via',
  '_shown',
  '_homepage',
  '_landing',
  '_language',
  '_at',
  '_to',
  '_seed',
  '_skipped',
  '_finished',
]

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
  const body = {
    answers: { ...givenByPage(point, page), ...fields },
    page,
    referrer: unseen._referrer || null,
    visitor: unseen._visitor || null,
    edition: Number(unseen._edition) || null,
    via: unseen._via === 'plain' || unseen._via === 'frame' ? unseen._via : 'page',
    took: shown > 0 ? Math.min(2e9, Math.max(0, Date.now() - shown)) : null,
    homepage: unseen._homepage || null,
    landing: unseen._landing || null,
    language: event.context.language ?? null,
    finished: unseen._finished || null,
  }
  if (isStep(point, unseen)) return stepForm(event, point, { fields, unseen, body, key })
  const got = await received(event, point, body, key, uploads)
  const { intake, flaws } = got
  const wrong = [...doubled, ...flaws]
  const again = (flaws: Flaw[]) =>
    refuseForm(event, got.page ?? point, fields, [...flaws, ...chooseAgain(point, uploads, flaws)], unseen._shown)
  if (!intake || wrong.length) return again(wrong)
  await limitPoint(event, point.key)
  if (await lacksProof(point, intake, null)) intake.suspect = 'unproven'
  const result = await accepted(intake)
  if (result.kind === 'key reused')
    return again([
      { field: '', message: 'These answers differ from the ones you sent from this page before. Send them once more to enter them too.' },
    ])
  if (isStranger(result))
    return again([
      { field: '', message: strangerText(inTongue(intake.edition.definition, intake.language).people, sayIn(intake.language)) },
    ])
  if (result.kind === 'closed') return shut(event, point, 410, result.text)
  if (isForeign(result)) return shut(event, point, 403, foreignText(intake.edition.definition.guards, sayIn(intake.language)))
  return leadTo(
    event,
    placeAfter(inTongue(intake.edition.definition, intake.language), { point, page: got.page }, tellable(result).entry),
    303,
  )
}

/** A page that says why the form takes nothing. */
function shut(event: H3Event, point: Point, status: number, text: string) {
  setResponseStatus(event, status)
  return hostedClosed(event, inTongueOf(point, tongueFor(event, point.live!.definition)), text)
}

/** A browser does not keep the files that were chosen when a form comes back. */
const chooseAgain = (point: Point, uploads: Upload[], flaws: Flaw[]): Flaw[] =>
  point
    .live!.definition.questions.filter(
      q => q.kind === 'file' && uploads.some(u => u.field === q.key) && !flaws.some(f => f.field === `answers.${q.key}`),
    )
    .map(q => ({ field: `answers.${q.key}`, message: 'Choose the file once more; it does not stay when the form comes back.' }))

/** What the page's own address says of questions that it answers, for copies without a script. */
function givenByPage(point: Point, page: string | null): Answers {
  const query = page && URL.canParse(page) ? new URL(page).searchParams : new URLSearchParams()
  return Object.fromEntries(
    point.live!.definition.questions.flatMap(q =>
      q.hidden?.from === 'page' && query.has(q.hidden.parameter) ? [[q.key, query.get(q.hidden.parameter)!]] : [],
    ),
  )
}

/**
 * Answers and unseen fields out of a form post. A name that comes twice is a flaw: one of the two
 * would be lost. Only the questions in `several` may have more than one answer.
 */
export function formFields(
  pairs: Iterable<[string, string]>,
  several: string[] = [],
): { fields: Answers; unseen: Record<string, string>; flaws: Flaw[] } {
  const fields: Answers = Object.create(null)
  const unseen: Record<string, string> = {}
  const flaws: Flaw[] = []
  let count = 0
  for (const [name, value] of pairs) {
    if (++count > 200) return { fields, unseen, flaws: [{ field: '', message: 'At most 200 fields fit in one form.' }] }
    if (UNSEEN.includes(name)) unseen[name] = value
    else if (several.includes(name)) fields[name] = [...(fields[name] ?? []), value]
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
