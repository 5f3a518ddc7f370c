import type { ArchiveAct, ArchiveLine } from '#core/archive'
import type { Intake } from '#core/capture/intake'
import { readCondition, type Condition } from '#core/conditions/condition'
import { ABOUT_PERSON } from '#core/conditions/askable'
import type { Flaw } from '#core/flaws'
import { parseEmail } from '#core/identity/email'
import { stops } from '#core/points/checks'
import { MOST_MEGABYTES } from '#core/files/kinds'
import { pageStops } from '#core/pages/checks'
import { filesOn } from '#core/pages/definition'
import { readPage } from '#core/pages/schema'
import { filesIn, kindOf } from '#core/points/definition'
import { experimentOf, variantsOf } from '#core/points/variants'
import { readDefinition } from '#core/points/shapes/definition'
import { Theme } from '#core/points/shapes/theme'
import { read as readShape } from '#core/shapes'
import { ROLES } from '#core/roles'
import { readEvents } from '#core/trail/events'
import { sourceOf } from '#core/trail/visits'
import { readPlan } from '#core/routing/plan'
import { readScorecard } from '#core/scoring/scorecard'
import type { Sql, Tx } from '#db/client'
import { saveVocabulary } from '#db/house'
import { addList } from '#db/lists'
import { addAbsence, addMember, setAvailability } from '#db/members'
import { addAsset, assetsKnown } from '#db/files'
import { addPoint, pointByKey, pointsToPlace, publish, type Point } from '#db/points'
import { addCount } from '#db/places'
import { keepNameless } from '#db/nameless'
import { addTryQuestion, keepNote } from '#db/notes'
import { addPlan } from '#db/routing'
import { addScorecard } from '#db/scoring'
import { addQuestions } from '#db/results'
import { saveSegment } from '#db/segments'
import { addStyle } from '#db/styles'
import { makeParts } from '#db/trail'
import { answeredVariants, sawVariants } from '#db/variants'
import { keepConversation } from '#server/archive/conversation'
import { houseOf } from '#server/archive/house'
import { accept } from '#server/ingest/entries'
import { surroundings } from '#server/capture/stops'
import { receive } from '#server/capture/receive'
import { flawInPersonal } from '#core/mails/personal'
import { ViewBody } from '#core/follow-up/views'
import { check } from '#core/validate'
import { dropReadyTextNamed, keepReadyText } from '#db/ready-texts'
import { addView } from '#db/views'
import { carryOut, type LeadAct } from '#server/follow-up/acts'
import { newId } from '#server/ids'
import { judgeDuePast, takeOverSome } from '#server/jobs/due'
import { inspect } from '#server/files/inspect'
import { hashPassword } from '#server/passwords'
import { readRuleset, type Ruleset } from '#server/ruleset'
import { takeTrail } from '#server/trail/take'

const DAY = 86_400_000
const JUDGE_EVERY_MS = DAY / 24
/** What was seen and begun is counted by lines of their own. */
const NO_POINTS = new Map<string, never>()

/** Says which line could not be read, and why. */
export class ArchiveError extends Error {
  constructor(line: number, flaws: Flaw[]) {
    super(`Line ${line} of the archive cannot be read: ${flaws.map(f => `${f.field ? `${f.field}: ` : ''}${f.message}`).join(' ')}`)
  }
}

/**
 * Brings an archive in, all of it or nothing. Entries go the same way as live ones,
 * at the times they have in the archive; nobody is mailed about the past.
 * @param progress called with the number of lines done
 */
export async function importArchive(sql: Sql, lines: Iterable<ArchiveLine>, progress: (done: number) => void = () => {}): Promise<number> {
  return await sql.begin(async tx => {
    const importer = createImporter(tx)
    let done = 0
    for (const line of lines) {
      await importer.take(line, ++done)
      if (done % 500 === 0) progress(done)
    }
    await importer.judgeUntil(Date.now())
    return done
  })
}

function createImporter(tx: Tx) {
  const memberIds = new Map<string, string>()
  const points = new Map<string, Point>()
  let ruleset: Ruleset | null = null
  const leads = new Map<string, string>()
  const landings = new Map<string, string>()
  const noteIds = new Map<string, string>()
  const tried: (string | null)[] = []

  const memberId = (email: string, line: number) =>
    memberIds.get(email) ?? fail(line, [{ field: 'member', message: `Nobody called ${email} comes before this line.` }])

  async function owner(lead: string): Promise<string> {
    const [row] = await tx<{ ownerId: string | null }[]>`select owner_id from lead where id = ${lead}`
    return row?.ownerId ?? [...memberIds.values()][0]!
  }

  const months = new Set<string>()
  /** A page that was read, with what was done on it. */
  async function read(line: Extract<ArchiveLine, { kind: 'view' }>, at: number): Promise<void> {
    const month = new Date(at).toISOString().slice(0, 7)
    if (!months.has(month)) await makeParts(tx, new Date(at), new Date(at + DAY))
    months.add(month)
    const { origin, pathname: path } = new URL(line.page)
    const here = { at, path }
    const done = readEvents(
      [
        { kind: 'page', title: line.title, ...here },
        ...(line.did ?? []).map(d => ({ ...here, ...d, at: at + 1000 * Number(d.after ?? 1) })),
        ...(line.seconds ? [{ kind: 'read', seconds: line.seconds, depth: line.depth, path, at: at + line.seconds * 1000 }] : []),
      ],
      at + DAY,
      at + DAY,
    )
    const utm = line.utm ?? {}
    const referrer = line.referrer ?? null
    const visit = {
      id: line.visit,
      visitor: line.visitor,
      site: origin,
      referrer,
      utm,
      source: sourceOf(referrer, utm),
      language: line.language ?? null,
      device: line.device ?? ('other' as const),
      place: line.place ?? null,
      robot: false,
    }
    await takeTrail(tx, ruleset!, [{ id: newId(at), visit, events: done }], NO_POINTS, new Date(at))
  }

  let judgedAt = 0
  /** As the worker does it: labels fall at their moment, before what comes after it. */
  async function judgeUntil(now: number): Promise<void> {
    judgedAt = now
    ruleset ??= await readRuleset(tx)
    while (await judgeDuePast(tx, ruleset, now));
  }

  /** A new scorecard takes effect at once on who was there before it. */
  async function takeOver(at: number): Promise<void> {
    ruleset ??= await readRuleset(tx)
    while ((await takeOverSome(tx, ruleset, ruleset.card, at)).leads);
  }

  async function take(line: ArchiveLine, n: number): Promise<void> {
    const at = line.at ? Date.parse(line.at) : Date.now()
    if (Number.isNaN(at)) fail(n, [{ field: 'at', message: 'This is not an ISO 8601 time.' }])
    // Only these change what the others stand on.
    if (['house', 'member', 'away', 'scorecard', 'routing', 'point', 'page', 'style', 'file', 'segment', 'list'].includes(line.kind))
      ruleset = null
    else ruleset ??= await readRuleset(tx)
    // What somebody did is judged on what had fallen until then; that somebody reads a page is looked at from time to time.
    if (line.at && (line.kind === 'entry' || line.kind === 'act' || line.kind === 'conversation' || at - judgedAt > JUDGE_EVERY_MS))
      await judgeUntil(at)

    if (line.kind === 'house') await saveVocabulary(tx, { ...line, house: houseOf(line.house) })
    else if (line.kind === 'member') {
      const email = parseEmail(line.email)
      if (!email || !ROLES.includes(line.role))
        fail(n, [{ field: 'member', message: 'A member has an e-mail address and one of the roles.' }])
      const id = newId()
      memberIds.set(line.email, id)
      await addMember(tx, {
        id,
        email: email!.address,
        emailKey: email!.key,
        name: line.name,
        role: line.role,
        passwordHash: await hashPassword(line.password),
      })
      const { week = null, zone = null, mostOpen = null, languages = [] } = line
      await setAvailability(tx, id, { week, zone, mostOpen, languages })
    } else if (line.kind === 'away') {
      const standIn = line.standIn === undefined ? null : memberId(line.standIn, n)
      await addAbsence(tx, {
        id: newId(),
        memberId: memberId(line.member, n),
        fromAt: new Date(line.from),
        untilAt: new Date(line.until),
        standIn,
      })
    } else if (line.kind === 'scorecard') {
      const { scorecard, flaws } = readScorecard(line.definition)
      await addScorecard(tx, scorecard ?? fail(n, flaws), new Date(at))
      await takeOver(at)
    } else if (line.kind === 'routing') {
      const seat = (s: string | { member: string }) => (typeof s === 'string' ? memberId(s, n) : { ...s, member: memberId(s.member, n) })
      const lanes = line.definition.lanes.map(l => ({ ...l, pool: l.pool.map(seat) }))
      const { plan, flaws } = readPlan({ ...line.definition, lanes })
      await addPlan(tx, plan ?? fail(n, flaws), new Date(at))
    } else if (line.kind === 'point') {
      const { definition, flaws } = readDefinition(line.definition)
      if (!definition) return fail(n, flaws)
      const id = newId(at)
      await addPoint(tx, { id, key: line.key, slug: line.slug, name: line.name, kind: kindOf(definition), workingCopy: definition })
      if (!line.live) return
      const wrong = stops(definition, surroundings(await readRuleset(tx), await assetsKnown(tx, filesIn(definition))))
      if (wrong.length) fail(n, wrong)
      await publish(tx, { id, revision: 1, edition: newId(at), by: null, at: new Date(at) })
      points.set(line.key, (await pointByKey(tx, line.key))!)
    } else if (line.kind === 'style') {
      const { value, flaws } = readShape(Theme, line.theme ?? line.look)
      if (!value) return fail(n, flaws)
      await addStyle(tx, { id: line.id, name: line.name, theme: value })
    } else if (line.kind === 'segment') {
      if (!(await saveSegment(tx, { id: line.id, name: line.name, condition: conditionOf(line.condition, n) }, new Date(at))))
        fail(n, [{ field: 'name', message: 'Another segment has this name.' }])
    } else if (line.kind === 'ready_text') {
      if (flawInPersonal(line.subject) ?? flawInPersonal(line.body))
        return fail(n, [{ field: 'body', message: 'A placeholder stands for nothing.' }])
      const { id, name, subject, body } = line
      await dropReadyTextNamed(tx, name)
      await keepReadyText(tx, { id, name, subject, body }, null, memberId(line.by, n))
    } else if (line.kind === 'kept_view') {
      const { value, flaws } = check(ViewBody, { name: line.name, query: line.query, columns: line.columns })
      if (!value) return fail(n, flaws)
      const added = await addView(tx, {
        id: line.id,
        member: line.member ? memberId(line.member, n) : null,
        name: value.name,
        query: value.query,
        columns: value.columns,
        by: memberId(line.by, n),
      })
      if (!added) return fail(n, [{ field: 'name', message: 'Another view has this name.' }])
    } else if (line.kind === 'list') {
      if (!(await addList(tx, line.id, line.name))) fail(n, [{ field: 'name', message: 'Another list has this name.' }])
    } else if (line.kind === 'file') {
      const seen = await inspect(
        { field: 'content', name: line.name, content: Buffer.from(line.content, 'base64'), whole: true },
        { accepts: [], megabytes: MOST_MEGABYTES },
      )
      if ('flaw' in seen) return fail(n, [{ field: 'content', message: seen.flaw }])
      await addAsset(tx, { ...seen.file, id: line.id, by: memberId(line.by, n), at: new Date(at) })
    } else if (line.kind === 'page') {
      const { page, flaws } = readPage(line.definition)
      if (!page) return fail(n, flaws)
      const id = newId(at)
      await addPoint(tx, { id, key: line.key, slug: line.slug, name: line.name, kind: 'page', workingCopy: page })
      landings.set(line.slug, id)
      if (!line.live) return
      const wrong = pageStops(page, {
        points: await pointsToPlace(tx),
        files: await assetsKnown(
          tx,
          filesOn(page).map(f => f.id),
        ),
      })
      if (wrong.length) fail(n, wrong)
      await publish(tx, { id, revision: 1, edition: newId(at), by: null, at: new Date(at) })
    } else if (line.kind === 'view') {
      await read(line, at)
    } else if (line.kind === 'count') {
      const landing = landings.get(line.point.replace('/p/', ''))
      const form = points.get(line.point)
      const point = landing ?? form?.id ?? fail(n, [{ field: 'point', message: 'No live point with this key comes before this line.' }])
      const of = { point, edition: form?.live?.number ?? 1, day: line.day }
      await addCount(tx, { ...of, page: line.page, seen: line.seen, started: line.started })
      if (line.questions?.length)
        await addQuestions(
          tx,
          line.questions.map(q => ({ ...of, ...q })),
        )
    } else if (line.kind === 'tried') {
      const point = points.get(line.point)
      const experiment = point && experimentOf(point.live!.definition)
      const variant = line.variant ?? line.wording
      if (!experiment || !variant || !variantsOf(point.live!.definition).some(w => w.key === variant))
        return fail(n, [{ field: 'variant', message: 'No live point with this key before this line tries such a wording.' }])
      const sight = [{ point: point.id, experiment, variant, visitor: line.visitor, at: new Date(at).toISOString() }]
      await (line.answered ? answeredVariants(tx, sight) : sawVariants(tx, sight))
    } else if (line.kind === 'entry') {
      const point = points.get(line.point)
      if (!point) return fail(n, [{ field: 'point', message: 'No live point with this key comes before this line.' }])
      const { intake, flaws, nameless } = receive(point, { via: 'archive', ...(line.body as object) }, null, at, {
        reading: ruleset!.reading,
      })
      const landing = landings.get((line.body as { landing?: string }).landing ?? '') ?? null
      if (nameless) return void (await keepNameless(tx, { ...nameless, landing }))
      if (intake) intake.landing = landing
      const [result] = await accept(tx, ruleset!, [(intake as Intake | null) ?? fail(n, flaws)], { mails: false })
      if (result?.kind === 'accepted' && result.now.lead.emailKey) leads.set(result.now.lead.emailKey, result.now.lead.id)
    } else if (line.kind === 'conversation') {
      const point = points.get(line.point)
      if (!point?.live?.definition.chat) return fail(n, [{ field: 'point', message: 'No live chat with this key comes before this line.' }])
      await keepConversation(
        tx,
        ruleset!,
        point,
        line,
        at,
        email => memberId(email, n),
        flaws => fail(n, flaws),
      )
    } else if (line.kind === 'note') {
      const id = newId(at)
      await keepNote(tx, { id, title: line.title, body: line.body, source: null }, null, memberId(line.by, n), new Date(at))
      noteIds.set(line.title, id)
    } else if (line.kind === 'note_question') {
      const note =
        line.note === null
          ? null
          : (noteIds.get(line.note) ?? fail(n, [{ field: 'note', message: 'No note with this title comes before this line.' }]))
      const kept = tried.filter(t => (t === null) === (note === null)).length
      tried.push(note)
      await addTryQuestion(tx, { id: newId(at), text: line.text, note, keptOut: kept % 2 === 1 }, new Date(at))
    } else if (line.kind === 'act') {
      const lead = leads.get(parseEmail(line.lead)?.key ?? '')
      if (!lead) return fail(n, [{ field: 'lead', message: 'No lead with this address comes before this line.' }])
      const actor = line.by === 'owner' ? await owner(lead) : memberId(line.by, n)
      await carryOut(
        tx,
        ruleset!,
        lead,
        actor,
        actOf(line.act, email => memberId(email, n)),
        new Date(at),
        false,
      )
    } else if (line.kind === 'seen') {
      await tx`update delivery set read_at = at where member_id is not null and read_at is null and at < ${new Date(line.until)}`
    } else fail(n, [{ field: 'kind', message: 'This kind of line is unknown.' }])
  }
  return { take, judgeUntil }
}

function actOf(act: ArchiveAct, memberId: (email: string) => string): LeadAct {
  if (act.do === 'owner') return { do: 'owner', owner: memberId(act.owner), ...(act.words ? { words: act.words } : { quiet: true }) }
  if (act.do === 'sent_back') return { do: 'sent_back', why: act.why, words: act.words ?? '' }
  if (act.do === 'next_step')
    return {
      do: 'next_step',
      step: act.text === null ? null : { text: act.text, due: new Date(act.due!), ...(act.step && { kind: act.step }) },
      ...(act.done && { done: true }),
      ...(act.outcome && { outcome: act.outcome }),
    }
  if (act.do === 'status') {
    const { status, reason, value, on, until } = act
    return {
      do: 'status',
      status,
      lenient: true,
      outcome: { ...(reason && { reason }), ...(value !== undefined && { value }), ...(on && { on }) },
      ...(until && { until: new Date(until) }),
    }
  }
  return act
}

function conditionOf(value: unknown, line: number): Condition {
  try {
    return readCondition(value, 'condition', ABOUT_PERSON)
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    return fail(line, [{ field: error.message.split(' ')[0]!, message: `${error.message}.` }])
  }
}

function fail(line: number, flaws: Flaw[]): never {
  throw new ArchiveError(line, flaws)
}
