import { DateTime } from 'luxon'
import { freeTimes } from '#core/meetings/free'
import { parseEmail, type Email } from '#core/identity/email'
import type { Language } from '#core/languages/language'
import { nameOf } from '#core/leads/lead'
import type { PointDefinition } from '#core/points/definition'
import type { Theme } from '#core/points/theme'
import { openClaim } from '#db/claims'
import { addMeetingLetter, entryById, type EntryRow } from '#db/entries'
import { callOff, keepMeeting, meetingOf, meetingsToCome, takenTimes, type Meeting } from '#db/meetings'
import { editionOf } from '#db/points'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { openBatch } from '#server/ingest/change'
import { idOfToken, signedAddress } from '#server/signed-addresses'
import { say } from '#server/live/say'

/** What somebody who may choose a time sees: with whom, the free times, and what they chose before. */
export interface Choosing {
  entry: EntryRow
  lead: string
  owner: { id: string; name: string }
  minutes: number
  zone: string
  free: number[]
  chosen: Meeting | null
  theme: Theme
  language: Language
  /** The address that the entry gave. */
  address: Email | null
}

/** Who may choose a time, by a signed word of an address; null when there is nothing to choose. */
export async function choosing(token: string): Promise<Choosing | null> {
  const id = idOfToken('meet', token)
  return id ? await choosingFor(id) : null
}

/** The times that a meeting of a lead can be moved to by one of us; null when it is over or called off, or the lead has no owner. */
export async function movable(lead: string, meeting: string): Promise<Choosing | null> {
  const own = (await meetingsToCome(applicationContext().sql, lead)).find(m => m.id === meeting)
  const offered = own ? await choosingFor(own.entryId) : null
  return offered?.chosen?.id === meeting ? offered : null
}

async function choosingFor(id: string): Promise<Choosing | null> {
  const { sql, cache } = applicationContext()
  const entry = await entryById(sql, id)
  if (!entry?.leadId || entry.state !== 'complete') return null
  const [edition, ruleset, [lead], chosen] = await Promise.all([
    editionOf(sql, entry.pointId, entry.edition),
    cache.ruleset(),
    sql<{ ownerId: string | null }[]>`select owner_id from lead where id = ${entry.leadId}`,
    meetingOf(sql, entry.leadId, entry.pointId, entry.id),
  ])
  const next = edition && meetingIn(edition.definition, entry.result)
  const owner = lead?.ownerId ? ruleset.members.get(lead.ownerId) : undefined
  if (!next || !owner) return null
  const { zone } = ruleset.house
  const now = Date.now()
  const taken = await takenTimes(sql, owner.id, new Date(now), new Date(now + (next.days + 1) * 86_400_000))
  const spans = taken
    .filter(t => t.id !== chosen?.id)
    .map(t => ({ from: t.startsAt.getTime(), until: t.startsAt.getTime() + t.minutes * 60_000 }))
  return {
    entry,
    lead: entry.leadId,
    owner: { id: owner.id, name: owner.name },
    minutes: next.minutes,
    zone,
    chosen: chosen ?? null,
    theme: edition!.definition.theme,
    language: entry.language ?? edition!.definition.language,
    address: addressIn(edition!.definition, entry.answers),
    free: freeTimes(owner.hours, next.minutes, [...spans, ...owner.absences], now, next.days),
  }
}

/** What was to be moved is not there any more. */
class Gone extends Error {}

/** How long and within which days somebody meets the owner: as the form says, or what a quiz came to. */
function meetingIn({ next, quiz }: PointDefinition, judged: EntryRow['result']): { minutes: number; days: number } | null {
  const offered = quiz ? quiz.results.find(r => r.key === judged?.result)?.call : next
  return offered?.kind === 'meeting' ? offered : null
}

/** The address that an entry gave. */
function addressIn({ questions }: PointDefinition, answers: EntryRow['answers']): Email | null {
  const typed = answers[questions.find(q => q.property === 'email')?.key ?? '']
  return typeof typed === 'string' ? parseEmail(typed) : null
}

/** A moment in words, in the house's zone. */
export const momentText = (at: number | Date, zone: string, language: Language = 'en') =>
  DateTime.fromMillis(Number(at), { zone, locale: localeOf(language) }).toFormat('cccc d LLLL, H:mm')
/** Names of days and months in a language, and figures as its visitors type them. */
export const localeOf = (language: Language) => (language === 'ar' ? 'ar-u-nu-latn' : language)

/**
 * Takes a time: the meeting, the next step, and mails with the calendar file to both.
 * @param by who of us moves it, and what they say with it; null: they chose it themselves
 * @returns false when the time is not free any more
 */
export async function choose(c: Choosing, at: number, by: { id: string; name: string; words: string } | null = null): Promise<boolean> {
  if (!c.free.includes(at)) return false
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = new Date()
  const words = momentText(at, c.zone)
  try {
    await sql.begin(async tx => {
      const { book, apply } = await openBatch(tx, ruleset, { ids: [c.lead], at: now.getTime() })
      const lead = book.byId.get(c.lead)!
      // Somebody may choose in two windows: what was chosen is looked at again, now that nobody else can.
      const before = await meetingOf(tx, c.lead, c.entry.pointId, c.entry.id)
      const meeting = await keepMeeting(
        tx,
        { id: newId(), entryId: c.entry.id, leadId: c.lead, memberId: c.owner.id, startsAt: new Date(at), minutes: c.minutes, madeAt: now },
        before?.id ?? null,
      )
      // What somebody of us moves has to be there still.
      if (by && before?.id !== c.chosen?.id) throw new Gone()
      const tells = c.owner.id !== by?.id
      await apply([
        {
          kind: 'meeting',
          at: now.getTime(),
          by: by?.id ?? null,
          lead: c.lead,
          starts: at,
          minutes: c.minutes,
          with: c.owner.id,
          ...(before && { was: before.startsAt.getTime() }),
          ...(by?.words && { words: by.words }),
          notice: tells
            ? {
                subject: by
                  ? `${by.name} moved the meeting with ${nameOf(lead)} to ${words}`
                  : `${nameOf(lead)} ${before ? 'moved the meeting to' : 'meets you on'} ${words}`,
                text: by
                  ? `They are told, too.${by.words && `\n\n“${by.words}”`}`
                  : `${nameOf(lead)} chose a time through “${c.entry.pointName}”: ${words}, ${c.minutes} minutes.`,
                meeting: meeting.entryId,
              }
            : null,
        },
      ])
      // It goes to whoever chose: to the address that their entry gave, and once that is theirs, where it is only claimed.
      const claim = c.address && c.address.key !== lead.emailKey ? await openClaim(tx, c.lead, c.address.key) : undefined
      const recipient = claim?.address ?? (c.address && c.address.key !== lead.emailKey ? null : lead.email)
      if (recipient)
        await addMeetingLetter(tx, {
          id: newId(),
          lead: c.lead,
          entry: meeting.entryId,
          at: now,
          recipient,
          claim: claim?.id ?? null,
          subject: `${before ? 'Moved' : 'Agreed'}: ${words}`,
          body: `${by ? `${by.name} has to move the meeting.${by.words && `\n\n“${by.words}”`}\n\n` : ''}You meet ${c.owner.name} on ${words} (${c.zone.replace(/^.*\//, '').replace(/_/g, ' ')} time), for ${c.minutes} minutes. The calendar file is attached.\n\nAnother time suits you better? ${signedAddress('meet', c.entry.id)}`,
        })
    })
  } catch (error) {
    // Somebody else was faster by a moment.
    if (error instanceof Gone || (error as { code?: string }).code === '23P01') return false
    throw error
  }
  await say(sql, { leads: [c.lead], notices: [c.owner.id], jobs: true })
  return true
}

/**
 * Calls a meeting off: the step for it goes, and calendars on both sides hear of it.
 * @param by who of us did; null: whoever chose it, who waits to hear from us
 * @returns the meeting; null when it was called off before, or is over
 */
export async function callMeetingOff(
  lead: string,
  id: string,
  by: { id: string; name: string } | null,
  words: string,
): Promise<Meeting | null> {
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = new Date()
  const meeting = await sql.begin(async tx => {
    const { book, apply } = await openBatch(tx, ruleset, { ids: [lead], at: now.getTime() })
    const person = book.byId.get(lead)
    const off = person && (await callOff(tx, lead, id))
    if (!off) return null
    const when = momentText(off.startsAt, ruleset.house.zone)
    const said = words && `\n\n“${words}”`
    const tells = off.memberId !== by?.id
    await apply([
      {
        kind: 'called_off',
        at: now.getTime(),
        by: by?.id ?? null,
        lead,
        starts: off.startsAt.getTime(),
        with: off.memberId,
        from: by ? 'us' : 'them',
        words,
        notice: tells
          ? {
              subject: `${by ? `${by.name} called off the meeting with ${nameOf(person)}` : `${nameOf(person)} called the meeting off`}: ${when}`,
              text: `${by ? 'They are told, too.' : 'They wait to hear from you.'}${said}`,
              meeting: off.entryId,
            }
          : null,
      },
    ])
    const recipient = person.email
    if (by && recipient)
      await addMeetingLetter(tx, {
        id: newId(),
        lead,
        entry: off.entryId,
        at: now,
        recipient,
        claim: null,
        subject: `Called off: ${when}`,
        body: `${by.name} has to call off the meeting on ${when}.${said}\n\nAnother time suits you? Choose one here: <${signedAddress('meet', off.entryId)}>`,
      })
    return off
  })
  if (meeting) await say(sql, { leads: [lead], notices: [meeting.memberId], jobs: true })
  return meeting
}
