import { DateTime } from 'luxon'
import { applying, type PublicDisplayRules } from '#core/appearing/definition'
import { masked, ofNobody } from '#core/appearing/masked'
import { holds, type Condition, type Attributes } from '#core/conditions/condition'
import { experimentOf } from '#core/points/variants'
import { needsNothing, needsOf } from '#core/leads/needs'
import { entryAttributes, pastOf } from '#core/leads/past'
import { expanded } from '#core/segments/segment'
import { answeredBy, type PlacedRow } from '#db/appearing'
import type { Db } from '#db/client'
import { actionsOf } from '#core/actions/edit'
import { tagsChosen } from '#core/capture/steps'
import { completed } from '#core/points/shapes/definition'
import { activitiesOfBrowser, entriesOfBrowser, type BrowserEntry } from '#db/browsers'
import { holdsForLead } from '#db/segments'
import { sign } from '#server/keys'

/** An appearance as the visitors' script gets it: nothing in it that we know of people. */
export function publicDisplayRules({ key, edition, definition }: PlacedRow): PublicDisplayRules[] {
  const { on: _, ...display } = applying(definition.display)
  const { audience, ours } = masked(display.audience)
  const experiment = experimentOf(definition)
  const one: PublicDisplayRules = {
    key,
    edition,
    title: definition.title,
    ...display,
    audience,
    nobody: ofNobody(ours),
    ...(experiment && {
      experiment,
      variants: definition.variants.map(({ key, title, invitation, open }) => ({ key, title, invitation, open })),
    }),
  }
  if (!definition.chat || display.placement === 'text') return [one]
  // The tab of a chat stands wherever the chat may; what it says by itself comes at its moment.
  const chat = definition.chat.place
  if (display.placement === 'button') return [{ ...one, chat }]
  const tab = { ...applying({ ...one, placement: 'float' as const }), chat }
  return display.placement === 'corner' && display.invitation.trim() ? [tab, { ...one, chat }] : [tab]
}

/** Minutes by which a zone's clock is ahead of UTC at a moment. */
export const shiftOf = (zone: string, now: Date): number => DateTime.fromJSDate(now, { zone }).offset

const HOLDS_MS = 10 * 60_000

/**
 * What we say of a person to their own browser: for each point, which of the tests that only we can judge hold. Signed and
 * short-lived; without it nothing can be learnt about anybody.
 */
export async function audienceToken(
  db: Db,
  points: PlacedRow[],
  segments: Map<string, Condition>,
  visitor: string,
  lead: string | null,
  now: number,
): Promise<string> {
  const asked = points
    .map(p => ({ key: p.key, tests: masked(p.definition.display.audience).ours as Condition[] }))
    .filter(p => p.tests.length)
  const payload = Buffer.from(
    JSON.stringify({ said: await judge(db, asked, segments, visitor, lead, now), until: now + HOLDS_MS }),
  ).toString('base64url')
  return `${payload}.${sign('words', `audience ${payload}`)}`
}

/**
 * Which of these tests hold, by the points that ask.
 * @param lead who it is shown to be. Of anybody else only counts what this very browser did and sent: whoever merely gives somebody's
 *   address learns nothing of them, not even that there is such a person.
 */
export async function judge(
  db: Db,
  points: { key: string; tests: Condition[] }[],
  segments: Map<string, Condition>,
  visitor: string,
  lead: string | null,
  now: number,
): Promise<Record<string, boolean[]>> {
  const asked = points.map(p => ({ key: p.key, tests: p.tests.map(test => ({ test, whole: expanded(test, segments) })) }))
  const needsPast = !lead && !needsNothing(needsOf(asked.flatMap(p => p.tests.map(t => t.whole))))
  const [answered, own, activities] = await Promise.all([
    lead ? answeredBy(db, lead) : null,
    lead ? [] : entriesOfBrowser(db, visitor),
    needsPast ? activitiesOfBrowser(db, visitor) : [],
  ])
  const answeredHere = answered ?? new Set(own.map(e => e.point))
  const isKnown = lead !== null || own.length > 0
  const past = pastOf(
    [...activities, ...own.map(e => ({ kind: 'entry' as const, at: e.at.getTime(), attributes: entryAttributes(e.point, e.answers) }))],
    now,
  )
  const sent = sentAttributes(own)
  const one = ({ test, whole }: { test: Condition; whole: Condition }, key: string): boolean | Promise<boolean> => {
    const about: Attributes = name =>
      name === 'visitor.known' ? (isKnown ? 'yes' : 'no') : name === 'answered' ? (answeredHere.has(key) ? 'yes' : 'no') : sent(name)
    if ('attribute' in test && (test.attribute === 'visitor.known' || test.attribute === 'answered')) return holds(test, about)
    return lead ? holdsForLead(db, whole, lead, now) : holds(whole, about, past)
  }
  return Object.fromEntries(
    await Promise.all(asked.map(async ({ key, tests }) => [key, await Promise.all(tests.map(t => one(t, key)))] as const)),
  )
}

/** What somebody brought about by what they sent from this browser: properties, the latest first, and the tags and lists that followed. */
function sentAttributes(entries: BrowserEntry[]): Attributes {
  const sent = entries.map(({ answers, definition }) => ({ answers, definition: completed(definition) }))
  return name => {
    if (name === 'list') return sent.flatMap(e => actionsOf(e.definition, 'list').flatMap(a => a.lists))
    if (name === 'tag')
      return sent.flatMap(({ answers, definition }) => [
        ...actionsOf(definition, 'tag').flatMap(a => a.tags),
        ...tagsChosen(definition.questions, answers),
      ])
    if (!name.startsWith('property.')) return undefined
    for (const { answers, definition } of sent) {
      const set = actionsOf(definition, 'property').find(a => a.property === name.slice(9))
      if (set) return set.value
      const key = definition.questions.find(q => q.property === name.slice(9))?.key
      if (key !== undefined && own(answers, key) !== undefined) return own(answers, key)
    }
  }
}
const own = (answers: BrowserEntry['answers'], key: string) => (Object.hasOwn(answers, key) ? answers[key] : undefined)
