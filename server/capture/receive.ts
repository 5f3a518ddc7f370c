import { hash } from 'node:crypto'
import { IsBoolean, IsIn, IsInt, IsObject, IsOptional, IsString, IsUUID, Max, MaxLength, Min } from 'class-validator'
import type { ReviewReason, IncomingFile, Intake, Via } from '#core/capture/intake'
import { namelessAnswers, type Nameless } from '#core/capture/nameless'
import type { Flaw } from '#core/flaws'
import { parseEmail } from '#core/identity/email'
import { isByEmail, personKey } from '#core/identity/same-person'
import { readAnswers } from '#core/points/answers'
import type { PointDefinition } from '#core/points/definition'
import { experimentOf, variantsOf } from '#core/points/variants'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { inTongue, languagesOf } from '#core/points/translations'
import { PLAIN_READING, type Reading } from '#core/points/values'
import { sayIn } from '#core/languages/say'
import { judgedBy } from '#core/quiz/judge'
import { allowsNameless, inOrder } from '#core/quiz/way'
import { Says } from '#core/shapes'
import { check } from '#core/validate'
import type { Edition, Point } from '#db/points'
import { newId } from '#server/ids'

/** An entry as it is sent. */
export class Entry {
  @Says('By the keys of the questions: texts, lists where several may be chosen.')
  @IsObject({ message: 'Send the answers as an object: question key and value' })
  answers!: Record<string, unknown>
  @IsOptional() @IsString() @MaxLength(4000) page?: string | null
  @IsOptional() @IsString() @MaxLength(4000) referrer?: string | null
  @IsOptional() @IsObject() utm?: Record<string, unknown> | null
  @IsOptional() @IsUUID() visitor?: string | null
  @Says('What was kept of it while it was typed.') @IsOptional() @IsUUID() unfinished?: string | null
  @Says('The variant that was shown, of the experiment.') @IsOptional() @IsString() @MaxLength(12) experiment?: string | null
  @IsOptional() @IsString() @MaxLength(2) variant?: string | null
  /** The same from a page that was open while Cavlin was brought up to date. */
  @IsOptional() @IsString() @MaxLength(12) trial?: string | null
  @IsOptional() @IsString() @MaxLength(2) wording?: string | null
  @Says('The edition that was shown; the live one, if left out.') @IsOptional() @IsInt() @Min(1) @Max(1_000_000) edition?: number | null
  @Says('The one of its languages that it was shown in.') @IsOptional() @IsIn(LANGUAGE_KEYS) language?: Language | null
  @Says('The copy it comes through.') @IsOptional() @IsIn(['script', 'page', 'plain', 'frame', 'program', 'archive']) via?: Via | null
  @Says('From the first sight to sending, in ms.') @IsOptional() @IsInt() @Min(0) @Max(2_000_000_000) took?: number | null
  /** What stands in it was put there by a machine. */
  @Says('A field that people do not see. Leave it empty.') @IsOptional() @IsString() @MaxLength(4000) homepage?: string | null
  @Says(
    'Of a quiz that lets people stay nameless: they do not say who they are. They get their result; nobody is made of it, and answers in words are not kept.',
  )
  @IsOptional()
  @IsBoolean()
  nameless?: boolean | null
  @Says('Of a quiz that asks who it is below the result: the `finished` that came with the result.') @IsOptional() @IsUUID() finished?:
    string | null
  /** See `server/capture/proof.ts`. */
  @Says('The challenge of a 428 with the `number` that solves it, as JSON in base64.') @IsOptional() @IsString() @MaxLength(2000) proof?:
    string | null
  @Says('The address (slug) of the landing page that the form stood on.') @IsOptional() @IsString() @MaxLength(200) landing?: string | null
}

export type Received = { intake: Intake; flaws: []; nameless?: undefined } | { intake: null; flaws: Flaw[]; nameless?: Nameless }

/**
 * Receives and guards an entry: checks what came over the wire against the live edition.
 * @param point with a live edition
 * @param at milliseconds since 1970
 * @param around how the house reads answers, the edition that was shown, when it is not the live one, and the files that came along
 */
export function receive(
  point: Point,
  body: unknown,
  idempotencyKey: string | null,
  at: number,
  around: { reading?: Reading; edition?: Edition | null; files?: IncomingFile[] } = {},
): Received {
  const { value, flaws } = check(Entry, body)
  if (!value) return { intake: null, flaws }
  const live = around.edition ? asked(around.edition, point.live!) : point.live!
  const sent = around.files ?? []
  const byQuestion: Record<string, IncomingFile[]> = {}
  for (const file of sent) (byQuestion[file.question] ??= []).push(file)
  const tongue = languagesOf(live.definition).find(l => l === value.language) ?? live.definition.language
  const spoken = inTongue(live.definition, tongue)
  const say = sayIn(tongue)
  const isNameless = value.nameless === true && allowsNameless(live.definition)
  const questions = inOrder(spoken.questions, spoken.quiz).filter(q => !(isNameless && q.quiz?.contact))
  const read = readAnswers(
    questions,
    isNameless ? withoutContact(value.answers, live.definition) : value.answers,
    { ...(around.reading ?? PLAIN_READING), say },
    byQuestion,
  )
  const utm = readUtm(value.utm ?? {})
  const all = [...read.flaws, ...utm.flaws]
  if (idempotencyKey !== null && (idempotencyKey.length > 200 || !/^[\x21-\x7e]+$/.test(idempotencyKey)))
    all.push({ field: 'Idempotency-Key', message: 'The key must have 1 to 200 visible ASCII characters.' })
  const judged = judgedBy(spoken, read.answers)
  if (isNameless && judged && !all.length) {
    const nameless: Nameless = {
      id: newId(at),
      at,
      point: { id: point.id, key: point.key, slug: point.slug },
      edition: { id: live.id, number: live.number, definition: live.definition },
      language: tongue,
      answers: read.answers,
      judged,
      kept: namelessAnswers(questions, read.answers),
      via: value.via ?? 'program',
      page: value.page?.split('?')[0] || null,
      landing: null,
      tookMs: value.took ?? null,
      isSuspect: suspicion(value.homepage, value.took, questions) !== null,
      idempotencyKey,
      unfinished: value.visitor ? { visitor: value.visitor, id: value.unfinished ?? null } : null,
    }
    return { intake: null, flaws: [], nameless }
  }
  const question = live.definition.questions.find(q => q.property === 'email')
  const typed = question && read.answers[question.key]
  const email = typeof typed === 'string' ? parseEmail(typed) : null
  const { same } = live.definition.people
  const known = isByEmail(same)
    ? null
    : personKey(same, property =>
        property === 'email' ? email?.address : read.values[live.definition.questions.find(q => q.property === property)?.key ?? ''],
      )
  // Somebody must be told from others, and reached.
  if (!email && isByEmail(same) && !all.length) all.push({ field: `answers.${question?.key ?? ''}`, message: say('fillEmail') })
  if (!known && !isByEmail(same) && !all.length)
    all.push(
      ...same.map(property => ({
        field: `answers.${live.definition.questions.find(q => q.property === property)?.key ?? ''}`,
        message: say('fillThis'),
      })),
    )
  if (all.length) return { intake: null, flaws: all }
  return {
    intake: {
      entryId: newId(at),
      at,
      point: { id: point.id, key: point.key, slug: point.slug, name: point.name },
      edition: { id: live.id, number: live.number, definition: live.definition },
      language: tongue,
      answers: read.answers,
      values: read.values,
      judged,
      files: sent.filter(f => read.answers[f.question] !== undefined),
      email,
      known,
      landing: null,
      via: value.via ?? 'program',
      tookMs: value.took ?? null,
      suspect: suspicion(value.homepage, value.took, live.definition.questions),
      page: value.page || null,
      referrer: value.referrer || null,
      utm: utm.utm,
      visitor: value.visitor ?? null,
      sender: null,
      unfinished: value.unfinished ?? null,
      finished: (live.definition.quiz && value.finished) || null,
      tried: tried(live.definition, value.experiment ?? value.trial, value.variant ?? value.wording),
      idempotencyKey,
      fingerprint: hash(
        'sha256',
        JSON.stringify([...Object.entries(read.answers).sort(([a], [b]) => (a < b ? -1 : 1)), ...sent.map(f => f.sha256)]),
      ),
    },
    flaws: [],
  }
}

/** Answers without what somebody may have begun to say of who they are. */
const withoutContact = (answers: Record<string, unknown>, { questions }: PointDefinition): Record<string, unknown> =>
  Object.fromEntries(Object.entries(answers).filter(([key]) => !questions.some(q => q.key === key && q.quiz?.contact)))

/** The variant that was shown, if there is such a one in such an experiment. */
const tried = (definition: PointDefinition, experiment?: string | null, variant?: string | null): Intake['tried'] =>
  experiment && variant && experiment === experimentOf(definition) && variantsOf(definition).some(w => w.key === variant)
    ? { experiment, variant }
    : null

/** An edition that was shown, under the rules of the live one: when it is open, from where and for whom is not for the visitor to choose. */
const asked = (shown: Edition, { definition: { closing, guards, people } }: Pick<Edition, 'definition'>): Edition => ({
  ...shown,
  definition: { ...shown.definition, closing, guards, people },
})

/** Nobody reads and answers a question in less time than this, not even with what the browser fills in. */
const FASTEST_MS = 200

/** What gives a machine away: it fills in what people do not see, or is done before anybody could have read. */
export function suspicion(
  homepage: string | null | undefined,
  tookMs: number | null | undefined,
  questions: unknown[],
): ReviewReason | null {
  if (homepage) return 'trap'
  return typeof tookMs === 'number' && tookMs < FASTEST_MS * Math.min(3, questions.length) ? 'too_fast' : null
}

/** The edition that a body says it was shown, out of an untrusted value; null when it says nothing that could be one. */
export const shownEdition = (body: unknown): number | null => {
  const edition = (body as { edition?: unknown } | null)?.edition
  return typeof edition === 'number' && Number.isInteger(edition) && edition > 0 && edition <= 1_000_000 ? edition : null
}

/** UTM parameters by name, with or without the prefix. */
export function readUtm(given: Record<string, unknown>): { utm: Record<string, string>; flaws: Flaw[] } {
  const utm: Record<string, string> = {}
  const flaws: Flaw[] = []
  const entries = Object.entries(given)
  if (entries.length > 20) return { utm, flaws: [{ field: 'utm', message: 'At most 20 UTM parameters are kept.' }] }
  for (const [name, value] of entries) {
    const key = name.replace(/^utm_/, '')
    if (!/^[a-z][a-z0-9_]{0,39}$/.test(key))
      flaws.push({ field: `utm.${name.slice(0, 60)}`, message: 'This is not the name of a UTM parameter.' })
    else if (typeof value !== 'string' || value.length > 500)
      flaws.push({ field: `utm.${key}`, message: 'A UTM parameter is a text of at most 500 characters.' })
    else if (value) utm[key] = value
  }
  return { utm, flaws }
}
