import type { ArchiveLine } from '#core/archive'
import { conversations } from './chat'
import { createDice, type Dice } from './dice'
import { FORMS, firm, LANDING, LOST, PARKED, TEAM } from './firm'
import { planOf, somebody, type Person } from './people'
import { LIGHT_PAGE, lightOf, QUIZ, ROOM_PATH, suitsOf } from './quizzes'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR

export interface HistoryOptions {
  now: number
  site: string
  /** Where Cavlin itself is to be found. */
  home?: string
  days?: number
  seed?: number
  perDay?: number
}

/** Somebody is away soon: a whole week, from the Monday after next. */
function leaveAfter(now: number): { from: string; until: string } {
  const monday = now + (14 - ((new Date(now).getUTCDay() + 6) % 7)) * DAY
  const at = (ms: number) => `${new Date(ms).toISOString().slice(0, 10)}T00:00:00Z`
  return { from: at(monday), until: at(monday + 5 * DAY) }
}

/**
 * The archive of Larkmoss Glasshouses: the firm, and some months in which people came,
 * read, filled in forms, were called back or not, bought or did not. The same seed
 * and moment give the same lines.
 */
export function history({
  now,
  site,
  home = 'https://cavlin.example',
  days = 120,
  seed = 4310,
  perDay = 9,
}: HistoryOptions): ArchiveLine[] {
  const dice = createDice(seed)
  const taken = new Set<string>()
  const start = now - days * DAY
  const events: { at: number; line: ArchiveLine }[] = []
  const add = (at: number, line: ArchiveLine) => {
    if (at < now) events.push({ at, line: { ...line, at: new Date(at).toISOString() } })
  }
  for (let day = start; day < now; day += DAY) {
    const weekend = [0, 6].includes(new Date(day).getUTCDay())
    // Slowly more from month to month; weekends are quiet.
    const busy = perDay * (weekend ? 0.35 : 1) * (0.75 + (0.5 * (day - start)) / (now - start))
    for (let n = Math.floor(busy + dice.next()); n > 0; n--) arrive(dice, add, somebody(dice, taken), momentOf(dice, day), site, now, home)
    wondering(add, day, site)
    nameless(add, day, home)
    for (let n = Math.floor(busy * 2.2); n > 0; n--) justLook(dice, add, momentOf(dice, day), site)
  }
  rings(add, now, site)
  comesTwice(add, now, site)
  bringsMany(add, now, site)
  conversations(add, start, now, site, { growers: [TEAM.mireille, TEAM.jonah, TEAM.desmond] })
  events.push(
    ...counts(
      dice,
      events.map(e => e.line),
      site,
    ),
    ...tried(
      events.map(e => e.line),
      site,
      now - 40 * DAY,
    ),
  )
  events.sort((a, b) => a.at - b.at)
  throughThePage(events, now - 45 * DAY, home)
  events.push(...landed(events, home))
  events.sort((a, b) => a.at - b.at)
  return [
    ...firm(new Date(start - DAY).toISOString(), leaveAfter(now)),
    ...events.map(e => e.line),
    { kind: 'seen', until: new Date(now - 20 * HOUR).toISOString() },
  ]
}

/** Somebody left a number to be called at; and then somebody knew that number, and gave an address with it. */
function rings(add: Add, now: number, site: string): void {
  const [first_name, phone] = ['Peverell', '06 39 98 11 40']
  const call = (ago: number, page: string, answers: Record<string, string>) =>
    add(workingBefore(now - ago), { kind: 'entry', point: FORMS.call, body: { answers, page: site + page, took: 21_000 } })
  call(50 * HOUR, '/growing-houses', { first_name, phone })
  call(21 * HOUR, '/prices', { first_name, phone, email: 'p.hask@oldquernmoorgrowers.example' })
}

/** Some come again under another address, and one mistyped theirs and sent it once more. */
function comesTwice(add: Add, now: number, site: string): void {
  const send = (ago: number, point: string, page: string, answers: Record<string, string>) =>
    add(workingBefore(now - ago), { kind: 'entry', point, body: { answers, page: site + page, took: 34_000 } })
  const ottoline = { first_name: 'Ottoline', last_name: 'Farrowmere', company: 'Sallowfield Market Garden' }
  send(9 * DAY, FORMS.visit, '/contact', {
    ...ottoline,
    sector: 'market_garden',
    size: 'medium',
    timing: 'this_year',
    email: 'o.farrowmere@sallowfieldmarketgarden.example',
    message: 'Two bays for winter leaves, to begin with.',
  })
  send(30 * HOUR, FORMS.care, '/growing-houses', {
    ...ottoline,
    company: 'Sallowfield market garden Ltd',
    email: 'ottoline@homeletter.example',
    message: 'The vents of the old house stick. Could you look at them when you come?',
  })
  const basil = {
    first_name: 'Basil',
    last_name: 'Tindlewick',
    company: 'The Copper Ladle',
    sector: 'restaurant',
    size: 'small',
    timing: 'this_season',
  }
  send(52 * HOUR, FORMS.visit, '/contact', { ...basil, email: 'basil.tindelwick@copperladle.example', message: 'Herbs on the roof?' })
  send(52 * HOUR - 20 * MINUTE, FORMS.visit, '/contact', {
    ...basil,
    email: 'basil.tindlewick@copperladle.example',
    message: 'Herbs on the roof? (I had mistyped my address.)',
  })
}

/** More people than a tour takes: somebody looks first. */
function bringsMany(add: Add, now: number, site: string): void {
  const tour = (ago: number, first_name: string, email: string, people: string) =>
    add(workingBefore(now - ago), {
      kind: 'entry',
      point: FORMS.tour,
      body: { answers: { first_name, email, people }, page: `${site}/journal/winter-light`, took: 19_000 },
    })
  tour(76 * HOUR, 'Rosalind', 'r.oakapple@thistledownschool.example', '12')
  tour(44 * HOUR, 'Cuthbert', 'cuthbert@gardenwalkers.example', '11')
  tour(23 * HOUR, 'Marigold', 'marigold.fenn@postbox.example', '9')
}

/** Since some weeks every third who asks for the guide comes through its landing page. */
function throughThePage(events: { at: number; line: ArchiveLine }[], since: number, home: string): void {
  let n = 0
  for (const { at, line } of events) {
    if (line.kind === 'entry' && line.point === FORMS.guide && at > since && n++ % 3 === 0)
      line.body = { ...(line.body as object), page: `${home}/p/${LANDING}`, landing: LANDING }
  }
}

/** Pages of ours, each with the form that stands on it; of a form's own page no landing page. */
const HOSTED = [
  { slug: LANDING, form: FORMS.guide, landing: true },
  { slug: LIGHT_PAGE, form: QUIZ.light, landing: true },
  { slug: 'winter-light', form: QUIZ.light, landing: false },
]
/** How often pages of ours, and the forms on them, were seen: some read and leave. */
const landed = (events: { at: number; line: ArchiveLine }[], home: string) => HOSTED.flatMap(hosted => seenOn(hosted, events, home))

function seenOn(
  { slug, form: point, landing }: (typeof HOSTED)[number],
  events: { at: number; line: ArchiveLine }[],
  home: string,
): { at: number; line: ArchiveLine }[] {
  const [page, days] = [`${home}/p/${slug}`, new Map<string, number>()]
  for (const { line } of events) {
    const body = line.kind === 'entry' ? (line.body as { landing?: string; page?: string }) : {}
    if (landing ? body.landing === slug : body.page === page) days.set(line.at!.slice(0, 10), (days.get(line.at!.slice(0, 10)) ?? 0) + 1)
  }
  return [...days].flatMap(([day, sent]) => {
    const own = createDice(11 + Number(day.replaceAll('-', '')))
    const begun = sent + own.between(0, sent)
    const seen = begun + own.between(1, 2 * sent + 1)
    const at = `${day}T00:00:00.000Z`
    const form: Counted = { kind: 'count', point, page, day, seen, started: 0 }
    for (let n = 0; n < begun; n++) {
      form.started++
      cameSoFar(form, n < sent)
    }
    const ofPage = { kind: 'count' as const, at, point: `/p/${slug}`, page, day, seen: seen + own.between(0, 2), started: begun }
    return [{ ...form, at }, ...(landing ? [ofPage] : [])].map(line => ({ at: Date.parse(at), line }))
  })
}

/** Since some weeks the price guide is asked for in two variants: each visitor to the prices saw one of them, and some answered. */
function tried(lines: ArchiveLine[], site: string, since: number): { at: number; line: ArchiveLine }[] {
  const saw = new Map<string, Extract<ArchiveLine, { kind: 'tried' }> & { at: string }>()
  for (const line of lines) {
    if (line.at! < new Date(since).toISOString()) continue
    if (line.kind === 'view' && line.page === `${site}/prices` && !saw.has(line.visitor))
      saw.set(line.visitor, {
        kind: 'tried',
        point: FORMS.guide,
        variant: createDice(parseInt(line.visitor.slice(0, 8), 16)).chance(0.5) ? 'a' : 'b',
        visitor: line.visitor,
        answered: false,
        at: line.at!,
      })
    const body = line.kind === 'entry' && line.point === FORMS.guide ? (line.body as { visitor?: string }) : null
    const sight = body?.visitor ? saw.get(body.visitor) : undefined
    if (sight) sight.answered = true
  }
  return [...saw.values()].map(line => ({ at: Date.parse(line.at), line }))
}

/** Where the forms stand on the site, and how many of those who see one begin to fill it in and leave. */
const STANDS: Record<string, { form: string; given: number }> = {
  '/contact': { form: FORMS.visit, given: 0.22 },
  '/prices': { form: FORMS.guide, given: 0.12 },
  '/growing-houses': { form: FORMS.care, given: 0.03 },
  '/journal/winter-light': { form: FORMS.journal, given: 0.05 },
  [ROOM_PATH]: { form: QUIZ.suits, given: 0.4 },
}

type Counted = Extract<ArchiveLine, { kind: 'count' }>
/** What each form asks, in its order. */
const asked = new Map(
  firm('').flatMap(line =>
    line.kind === 'point' ? [[line.key, (line.definition as { questions: { key: string }[] }).questions.map(q => q.key)] as const] : [],
  ),
)

/** Asked of those only who answered so. */
const ASIDE = new Set(['load'])

/** Somebody came so far with a form and left, or sent it; with dice of their own, so that all else stays as it is. */
function cameSoFar(sum: Counted, sent: boolean): void {
  const questions = (sum.questions ??= (asked.get(sum.point) ?? []).map(question => ({ question, reached: 0, stopped: 0 })))
  const own = createDice(7 + sum.started * 131 + Number(sum.day.replaceAll('-', '')))
  // What is private or takes thought loses more than what is answered with a press.
  const loses = questions.map(({ question }): [number, number] => [
    questions.findIndex(q => q.question === question),
    { email: 5, message: 4, size: 2 }[question] ?? 1,
  ])
  const stops = sent || !questions.length ? questions.length : own.weighed(loses)
  for (const [i, q] of questions.entries()) {
    // Few are asked what only some are.
    if (i !== stops && ASIDE.has(q.question) && !own.chance(0.3)) continue
    if (i <= stops) q.reached++
    if (i === stops) q.stopped++
  }
}

/** How often each form was seen and begun, day by day. */
function counts(dice: Dice, lines: ArchiveLine[], site: string): { at: number; line: ArchiveLine }[] {
  const days = new Map<string, Counted>()
  const count = (line: ArchiveLine, path: string, form: string, started: boolean, sent = false) => {
    const day = line.at!.slice(0, 10)
    const key = `${day} ${path}`
    const sum = days.get(key) ?? { kind: 'count' as const, point: form, page: site + path, day, seen: 0, started: 0 }
    sum.seen++
    if (started) {
      sum.started++
      cameSoFar(sum, sent)
    }
    days.set(key, sum)
  }
  for (const line of lines) {
    const path =
      line.kind === 'view'
        ? line.page.slice(site.length)
        : line.kind === 'entry'
          ? ((line.body as { page?: string }).page ?? '').slice(site.length)
          : ''
    const stands = STANDS[path]
    if (!stands) continue
    // A form low on its page is seen by some; who filled it in has seen it. Only who agreed is counted.
    if (line.kind === 'entry') {
      if ((line.body as { visitor?: string }).visitor) count(line, path, stands.form, true, true)
    } else if (dice.chance(0.75)) count(line, path, stands.form, dice.chance(stands.given))
  }
  return [...days.values()].map(line => ({ at: Date.parse(`${line.day}T00:00:00Z`), line: { ...line, at: `${line.day}T00:00:00.000Z` } }))
}

/** A moment of a day: mostly in working hours, some evenings, hardly any nights. */
function momentOf(dice: Dice, day: number): number {
  const hour = dice.weighed([
    [dice.between(8, 11), 42],
    [dice.between(12, 13), 14],
    [dice.between(14, 17), 32],
    [dice.between(18, 22), 11],
    [dice.between(0, 7), 1],
  ])
  return Math.floor(day / DAY) * DAY + hour * HOUR + dice.between(0, 59) * MINUTE + dice.between(0, 59_000) - HOUR
}

const PAGES = [
  ['/', 'Larkmoss Glasshouses'],
  ['/growing-houses', 'Growing houses'],
  ['/prices', 'Prices'],
  ['/journal/winter-light', 'What winter light is worth'],
  ['/journal/heating-with-compost', 'Heating with compost'],
  ['/contact', 'Contact'],
] as const
const SOURCES: { referrer?: string; utm?: Record<string, string>; weight: number }[] = [
  { referrer: 'https://search.example/', weight: 40 },
  { weight: 25 },
  {
    referrer: 'https://growers-weekly.example/',
    utm: { source: 'growers-weekly', medium: 'newsletter', campaign: 'winter-light' },
    weight: 14,
  },
  { referrer: 'https://schoolgrounds.example/partners', weight: 13 },
  { referrer: 'https://fair.example/', utm: { source: 'garden-fair', medium: 'print' }, weight: 8 },
]
type Add = (at: number, line: ArchiveLine) => void

interface Came {
  visitor: string
  source: (typeof SOURCES)[number]
  agreed: boolean
}

function visit(dice: Dice, add: Add, at: number, site: string, came: Came, pages: readonly (readonly [string, string])[]): number {
  const id = dice.uuid()
  const manner = mannerOf(came.visitor)
  // What is read of a page is thrown with dice of its own, so that who comes and what comes of it stays as it is.
  const own = createDice(parseInt(id.slice(0, 8), 16))
  for (const [path, title] of pages) {
    const stays = dice.around(50, 0.8)
    if (came.agreed) {
      const depth = Math.min(100, Math.round(own.around(58, 0.5)))
      add(at, {
        kind: 'view',
        visitor: came.visitor,
        visit: id,
        page: site + path,
        title,
        ...(came.source.referrer && { referrer: came.source.referrer }),
        ...(came.source.utm && { utm: came.source.utm }),
        ...manner,
        seconds: Math.max(1, Math.round(stays * 0.9)),
        depth,
        did: doneOn(own, path, depth),
      })
    }
    at += stays * 1000
  }
  return at
}

/** What a browser is and where, which stays from visit to visit. */
function mannerOf(visitor: string): { device: 'computer' | 'phone' | 'tablet'; language: string; place?: string } {
  const own = createDice(parseInt(visitor.slice(0, 8), 16))
  const place = own.weighed([
    ['Larkmoss', 30],
    ['Fenwick', 22],
    ['Old Quernmoor', 14],
    ['Brackwater', 12],
    ['', 22],
  ])
  return {
    device: own.weighed([
      ['computer', 58],
      ['phone', 36],
      ['tablet', 6],
    ]),
    language: own.weighed([
      ['en-GB', 70],
      ['fr-FR', 20],
      ['de-DE', 10],
    ]),
    ...(place && { place }),
  }
}

/** What somebody did on a page beside reading it: mostly nothing; some see its form, and some of those begin it and leave. */
function doneOn(own: Dice, path: string, depth: number): Record<string, unknown>[] {
  const stands = STANDS[path]
  const did: Record<string, unknown>[] = []
  if (path === '/prices' && own.chance(0.2)) did.push({ kind: 'mark', mark: 'Sums by house', after: 9 })
  if (path === '/prices' && own.chance(0.07))
    did.push({
      kind: 'event',
      name: 'heating sum',
      properties: { house: own.pick(['Brackwater', 'Fernhollow', 'Quernmoor']), degrees: own.between(6, 18) },
      after: 16,
    })
  if (!stands || depth < 55) return did
  const point = { point: stands.form, placement: 'text' }
  did.push({ kind: 'seen', ...point, after: 6 })
  if (own.chance(stands.given * 0.6))
    did.push(
      { kind: 'started', ...point, after: 14 },
      { kind: 'question', ...point, question: 'first_name', seconds: own.between(3, 14), after: 24 },
      { kind: 'left', ...point, question: 'email', after: 30 },
    )
  return did
}

function comes(dice: Dice): Came {
  return { visitor: dice.uuid(), source: dice.weighed(SOURCES.map(s => [s, s.weight] as const)), agreed: dice.chance(0.62) }
}

/** Somebody who reads a little and leaves without a word. */
function justLook(dice: Dice, add: Add, at: number, site: string): void {
  visit(
    dice,
    add,
    at,
    site,
    comes(dice),
    Array.from({ length: dice.between(1, 3) }, () => dice.pick(PAGES)),
  )
}

/** Somebody who gives their name: what they read before, what they fill in, and what comes of it. */
function arrive(dice: Dice, add: Add, person: Person, at: number, site: string, now: number, home: string): void {
  const came = comes(dice)
  const keen = person.promise > 0.18
  if (dice.chance(keen ? 0.5 : 0.2)) visit(dice, add, at - dice.between(1, 6) * DAY, site, came, [PAGES[0], PAGES[1], dice.pick(PAGES)])
  const form = dice.weighed([
    [FORMS.visit, keen ? 46 : 14],
    [FORMS.guide, 34],
    [FORMS.care, 8],
    [FORMS.journal, keen ? 8 : 26],
  ])
  const page = {
    [FORMS.visit]: '/contact',
    [FORMS.guide]: '/prices',
    [FORMS.care]: '/growing-houses',
    [FORMS.journal]: '/journal/winter-light',
  }[form]!
  const sent =
    visit(dice, add, at, site, came, [PAGES[0], ...(keen ? [PAGES[1], PAGES[2]] : [dice.pick(PAGES)]), PAGES.find(p => p[0] === page)!]) +
    dice.around(70, 0.4) * 1000
  enter(add, sent, person, form, site + page, came)
  const again = form !== FORMS.visit && dice.chance(person.promise)
  const secondAt = sent + dice.around(5, 0.7) * DAY
  if (again) {
    visit(dice, add, secondAt - 4 * MINUTE, site, came, [PAGES[2], PAGES[5]])
    enter(add, secondAt, person, FORMS.visit, `${site}/contact`, came)
  }
  // Some who asked for a visit have a room planned a day later.
  const own = createDice([...person.email].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) >>> 0, 7))
  const returns: number[] = []
  if (form === FORMS.visit && own.chance(0.45))
    add(back(returns, sent + own.around(1, 0.5) * DAY), {
      kind: 'entry',
      point: FORMS.plan,
      body: { answers: planOf(person, own), page: site + '/', ...(came.agreed && { visitor: came.visitor }) },
    })
  returns.push(...quizzed(add, person, sent, site, came, home))
  followUp(dice, add, person, sent, form === FORMS.journal ? 0.35 : 1, again ? secondAt : null, returns, now)
}

/** Notes when they came back. */
function back(returns: number[], at: number): number {
  returns.push(at)
  return at
}

/** Some who left their name wonder which room suits them, or take the quiz about light on its page. With dice of their own. */
function quizzed(add: Add, person: Person, sent: number, site: string, came: Came, home: string): number[] {
  const returns: number[] = []
  const own = createDice([...person.email].reduce((sum, letter) => (sum * 33 + letter.charCodeAt(0)) >>> 0, 11))
  const body = (answers: object, page: string, took: number) => ({
    answers,
    page,
    took: Math.round(own.around(took, 0.4) * 1000),
    ...(came.agreed && { visitor: came.visitor }),
  })
  if (own.chance(0.24)) {
    const at = visit(own, add, sent + own.around(8, 0.8) * HOUR, site, came, [PAGES[1], ROOM]) + 60_000
    add(back(returns, at), { kind: 'entry', point: QUIZ.suits, body: body(suitsOf(person, own), site + ROOM_PATH, 48) })
  }
  if (own.chance(0.16)) {
    const through = own.chance(0.6)
    const at = sent + own.around(3, 0.7) * DAY
    add(back(returns, at), {
      kind: 'entry',
      point: QUIZ.light,
      body: {
        ...body(lightOf(person, own), `${home}/p/${through ? LIGHT_PAGE : 'winter-light'}`, 66),
        ...(through && { landing: LIGHT_PAGE }),
      },
    })
  }
  return returns
}
const ROOM = [ROOM_PATH, 'Which growing room suits you?'] as const

/** Who takes the quiz about light and does not say who they are: about as many as do. */
function nameless(add: Add, day: number, home: string): void {
  const own = createDice(day / DAY + 17)
  const stranger = { sector: 'private' } as Person
  for (let n = own.between(0, 2); n > 0; n--) {
    const through = own.chance(0.6)
    const page = `${home}/p/${through ? LIGHT_PAGE : 'winter-light'}`
    const { email: _, first_name: __, ...answers } = lightOf(stranger, own) as Record<string, unknown>
    add(momentOf(own, day), {
      kind: 'entry',
      point: QUIZ.light,
      body: { answers, nameless: true, page, took: Math.round(own.around(58, 0.4) * 1000), ...(through && { landing: LIGHT_PAGE }) },
    })
  }
}

/** And some look at the question and go again without a word. */
function wondering(add: Add, day: number, site: string): void {
  const own = createDice(day / DAY + 5)
  for (let n = own.between(0, 3); n > 0; n--) visit(own, add, momentOf(own, day), site, comes(own), [PAGES[0], ROOM])
}

function enter(add: Add, at: number, p: Person, form: string, page: string, came: Came): void {
  const all: Record<string, string | null> = {
    sector: p.sector,
    size: p.size,
    timing: p.timing,
    first_name: p.first,
    last_name: p.last,
    company: p.company,
    email: p.email,
    message: p.message,
  }
  const asked = {
    [FORMS.visit]: Object.keys(all),
    [FORMS.guide]: ['sector', 'first_name', 'email'],
    [FORMS.care]: ['first_name', 'last_name', 'company', 'email', 'message'],
    [FORMS.journal]: ['first_name', 'email'],
  }[form]!
  const answers = Object.fromEntries(asked.flatMap(key => (all[key] ? [[key, all[key]]] : [])))
  add(at, {
    kind: 'entry',
    point: form,
    body: {
      answers,
      page,
      ...(came.source.referrer && { referrer: came.source.referrer }),
      ...(came.source.utm && { utm: came.source.utm }),
      ...(came.agreed && { visitor: came.visitor }),
    },
  })
}

const COMES_BACK = [
  'They only wanted to know which house suits them. Sent the leaflet.',
  'Talked through their result; it is for next year.',
  'Explained the sums for the roof. They come back to us.',
]
const ASKS = [
  '{} knows the caretaker there. Will you have a word?',
  'Could {} look at the roof drawings before Thursday?',
  'The heating is the question. {}, what did Fernhollow need?',
  '{}: they ask for the same bench as the Millrace kitchens.',
]
const ASKED = ['@Mireille Vauclair', '@Jonah Birkett', '@Desmond Oyelaran-Pike', '@Orla Penhaligon']
const GIVEN_TO = [TEAM.mireille, TEAM.jonah, TEAM.desmond]
const GIVES = ['You built for their neighbours.', 'They would rather speak French.', 'I am out all week; they want a visit by Friday.']
const CALLS = [
  'Rang, left a message with the office; they rang back at noon.',
  'Spoke for ten minutes. They want it ready before the frost.',
  'Two dates for a visit; they ask the caretaker.',
  'Try after four in future, when lessons are over.',
  'Good talk; the budget is real but not signed off.',
]
const TALKS = [
  'Walked the site. South wall, good drainage, one lime tree in the way.',
  'They showed me the roof drawings; the engineer has to look.',
  'Sent the heating figures for three winters.',
  'Wants to see the Brackwater house first.',
]
const OFFERS = [
  'Went through the offer; the vents are the open question.',
  'They want it in two stages, so that the first can stand by spring.',
  'The governors meet on Thursday week.',
]
const STEPS: Record<string, string[]> = {
  reaching_out: ['Call again', 'Send the leaflet for {}', 'Ask for a photo of the plot'],
  in_talks: ['Visit the site', 'Send drawings', 'Check the roof load', 'Agree a date for measuring'],
  proposal: ['Ask whether the offer arrived', 'Go through the offer together', 'Call before the governors meet'],
}

/** What the owner does: sooner or later or never, and how it ends. Better fits are won more often. */
function followUp(
  dice: Dice,
  add: Add,
  p: Person,
  came: number,
  effort: number,
  again: number | null,
  returns: readonly number[],
  now: number,
): void {
  // Moved into working hours, one thing still comes after the other.
  let last = 0
  const act = (at: number, what: Extract<ArchiveLine, { kind: 'act' }>['act']) => {
    last = Math.max(working(at), last + MINUTE)
    add(last, { kind: 'act', lead: p.email, by: 'owner', act: what })
  }
  // What is said of it, with dice of their own, so that who comes and how it ends stays as it is.
  const own = createDice([...p.email].reduce((sum, letter) => (sum * 37 + letter.charCodeAt(0)) >>> 0, 3))
  const call = (at: number, texts: string[]) => act(at, { do: 'call', result: 'reached', text: own.pick(texts) })
  const close = (at: number, status: string) => {
    const on = new Date(working(at)).toISOString()
    const wakes = working(at + own.between(30, 240) * DAY)
    const said = {
      won: {
        value: Math.round(own.around({ small: 14_000, medium: 38_000, large: 92_000 }[p.size as string] ?? 21_000, 0.4) / 100) * 10_000,
        on: on.slice(0, 10),
      },
      lost: { reason: own.pick(LOST) },
      parked: { reason: own.pick(PARKED), until: new Date(wakes).toISOString() },
    }[status]
    act(at, { do: 'status', status, ...said })
    // Most who wake up are called, and it comes to something, or to nothing.
    const back = again !== null && again > at
    if (status === 'parked' && !back && wakes < now - DAY && own.chance(0.8)) {
      call(wakes + own.between(1, 5) * HOUR, CALLS)
      if (own.chance(0.35))
        act(wakes + 6 * HOUR, {
          do: 'next_step',
          text: 'Send the new prices',
          due: new Date(working(wakes + 12 * DAY)).toISOString(),
          step: 'mail',
        })
      else act(wakes + 6 * HOUR, { do: 'status', status: 'lost', reason: own.pick(LOST) })
    }
    // Who comes back with a quiz or a plan after that is told what there is to tell.
    for (const later of returns.filter(r => r > at && r < now - DAY && (!again || r > again + DAY)).toSorted((a, b) => a - b)) {
      call(later + own.between(1, 6) * HOUR, COMES_BACK)
      if (status !== 'won')
        act(later + 7 * HOUR, {
          do: 'status',
          status: 'parked',
          reason: own.pick(PARKED),
          until: new Date(working(later + own.between(40, 200) * DAY)).toISOString(),
        })
    }
    // Who comes back after that is called once more.
    if (again && again > at) {
      const called = again + dice.around(3 * HOUR, 0.6)
      call(called, CALLS)
      act(called, { do: 'status', status: 'reaching_out' })
    }
  }
  /** Sets the next step for about when it will be done. */
  const open = (at: number, status: string, next: number) => {
    const due = working(at + (next - at) * (0.85 + 0.3 * dice.next()))
    const text = dice.pick(STEPS[status]!)
    act(at + 2 * MINUTE, {
      do: 'next_step',
      text: text.replace('{}', p.company ?? 'the family'),
      due: new Date(due).toISOString(),
      step: /^Visit/.test(text) ? 'visit' : /[Cc]all|Ask/.test(text) ? 'call' : /^Send/.test(text) ? 'mail' : 'other',
    })
  }
  const neglected = dice.chance(0.06) && came > now - 6 * DAY
  if (neglected) return
  let at = came + dice.around(effort < 1 ? 40 * HOUR : 5 * HOUR, 1)
  if (!dice.chance(0.35 + 0.65 * effort)) return close(at, 'parked')
  // Some are not reached at once.
  if (own.chance(0.3))
    act(Math.max(came + 5 * MINUTE, at - 2 * HOUR), { do: 'call', result: own.chance(0.4) ? 'left_message' : 'not_reached' })
  act(at, { do: 'call', result: 'reached', text: dice.pick(CALLS) })
  act(at + MINUTE, { do: 'status', status: 'reaching_out' })
  if (own.chance(0.05)) act(at + 3 * MINUTE, { do: 'note', text: own.pick(ASKS).replace('{}', own.pick(ASKED)) })
  if (own.chance(0.04)) act(at + 4 * MINUTE, { do: 'owner', owner: own.pick(GIVEN_TO), words: own.pick(GIVES) })
  // What the score promised is not always so.
  if (p.promise < 0.15 && own.chance(0.05))
    return act(at + 5 * MINUTE, {
      do: 'sent_back',
      why: own.pick(['too_early', 'wrong_person', 'not_ours', 'no_budget'] as const),
      words: own.pick(['', 'Again in spring, perhaps.', 'A student with a project.']),
    })
  const talked = Math.max(at, again ?? 0) + dice.around(2.5, 0.6) * DAY
  open(at, 'reaching_out', talked)
  at = talked
  if (dice.chance(0.45 - p.promise * 0.6))
    return close(
      at,
      dice.weighed([
        ['parked', 5],
        ['lost', 4],
      ]),
    )
  act(at, { do: 'call', result: 'reached', text: dice.pick(TALKS) })
  act(at + MINUTE, { do: 'status', status: 'in_talks' })
  const offered = at + dice.around(7, 0.6) * DAY
  open(at, 'in_talks', offered)
  at = offered
  if (dice.chance(0.4 - p.promise * 0.4))
    return close(
      at,
      dice.weighed([
        ['lost', 5],
        ['parked', 4],
      ]),
    )
  call(at, OFFERS)
  act(at, { do: 'status', status: 'proposal' })
  const decided = at + dice.around(10, 0.6) * DAY
  open(at, 'proposal', decided)
  at = decided
  close(at, dice.chance(Math.min(0.8, p.promise * 1.2)) ? 'won' : 'lost')
}

/** The same moment, or one of the working day before it: what came so long ago has come, also on a Sunday. */
function workingBefore(at: number): number {
  const [day, weekday] = [Math.floor(at / DAY) * DAY, new Date(at).getUTCDay()]
  const friday = weekday === 6 ? DAY : weekday === 0 ? 2 * DAY : 0
  return working(day - friday + Math.min(at - day, 16 * HOUR + (at - day) / 48))
}

/** The same moment, or the next working morning when it falls outside of working hours. */
function working(at: number): number {
  const day = Math.floor(at / DAY) * DAY
  const weekday = new Date(at).getUTCDay()
  const offset = at - day
  if (weekday === 6) return working(day + 2 * DAY + 8 * HOUR + offset / 30)
  if (weekday === 0) return working(day + DAY + 8 * HOUR + offset / 30)
  if (offset >= 16.5 * HOUR) return working(day + DAY + 7.5 * HOUR + (offset - 16.5 * HOUR) / 8)
  return offset < 7 * HOUR ? day + 7.25 * HOUR + offset / 8 : at
}
