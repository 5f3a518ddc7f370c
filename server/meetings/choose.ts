import { DateTime } from 'luxon'
import { freeTimes } from '#core/meetings/free'
import { parseEmail, type Email } from '#core/identity/email'
import type { Language } from '#core/languages/language'
import { nameOf } from '#core/leads/lead'
import type { PointDefinition } from '#core/points/definition'
import type { Theme } from '#core/points/theme'
import { openClaim } from '#db/claims'
import { addMeetingLetter, entryById, type EntryRow } from '#db/entries'
import { keepMeeting, meetingOf, takenTimes, type Meeting } from '#db/meetings'
import { editionOf } from '#db/points'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { openBatch } from '#server/ingest/change'
import { idOfToken, signedAddress } from '#server/signed-addresses'
import { say } from '#server/live/say'

/** What somebody who may choose a time sees: with whom, the free times, and what they chose before. */
export interface Choosing {
  entry: EntryRow; lead: string; owner: { id: string; name: string }; minutes: number; zone: string; free: number[]; chosen: Meeting | null
  theme: Theme
  language: Language
  /** The address that the entry gave. */
  address: Email | null
}

/** Who may choose a time, by a signed word of an address; null when there is nothing to choose. */
export async function choosing(token: string): Promise<Choosing | null> {
  const id = idOfToken('meet', token)
  const { sql, cache } = applicationContext()
  const entry = id ? await entryById(sql, id) : undefined
  if (!entry?.leadId || entry.state !== 'complete') return null
  const [edition, ruleset, [lead], chosen] = await Promise.all([
    editionOf(sql, entry.pointId, entry.edition), cache.ruleset(),
    sql<{ ownerId: string | null }[]>`select owner_id from lead where id = ${entry.leadId}`, meetingOf(sql, entry.leadId, entry.pointId, entry.id),
  ])
  const next = edition && meetingIn(edition.definition, entry.result)
  const owner = lead?.ownerId ? ruleset.members.get(lead.ownerId) : undefined
  if (!next || !owner) return null
  const { zone, workingDays, worksFrom, worksUntil } = ruleset.house
  const now = Date.now()
  const taken = await takenTimes(sql, owner.id, new Date(now), new Date(now + (next.days + 1) * 86_400_000))
  const spans = taken.filter(t => t.id !== chosen?.id).map(t => ({ from: t.startsAt.getTime(), until: t.startsAt.getTime() + t.minutes * 60_000 }))
  return {
    entry, lead: entry.leadId, owner: { id: owner.id, name: owner.name }, minutes: next.minutes, zone, chosen: chosen ?? null, theme: edition!.definition.theme, language: entry.language ?? edition!.definition.language,
    address: addressIn(edition!.definition, entry.answers),
    free: freeTimes({ days: workingDays, from: worksFrom, until: worksUntil, zone }, next.minutes, spans, now, next.days),
  }
}

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
export const momentText = (at: number | Date, zone: string, language: Language = 'en') => DateTime.fromMillis(Number(at), { zone, locale: localeOf(language) }).toFormat('cccc d LLLL, H:mm')
/** Names of days and months in a language, and figures as its visitors type them. */
export const localeOf = (language: Language) => (language === 'ar' ? 'ar-u-nu-latn' : language)

/**
 * Takes a time: the meeting, the next step, and mails with the calendar file to both.
 * @returns false when the time is not free any more
 */
export async function choose(c: Choosing, at: number): Promise<boolean> {
  if (!c.free.includes(at)) return false
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = new Date()
  const words = momentText(at, c.zone)
  try {
    await sql.begin(async (tx) => {
      const { book, apply } = await openBatch(tx, ruleset, { ids: [c.lead], at: now.getTime() })
      const lead = book.byId.get(c.lead)!
      // Somebody may choose in two windows: what was chosen is looked at again, now that nobody else can.
      const before = await meetingOf(tx, c.lead, c.entry.pointId, c.entry.id)
      const meeting = await keepMeeting(tx, { id: newId(), entryId: c.entry.id, leadId: c.lead, memberId: c.owner.id, startsAt: new Date(at), minutes: c.minutes, madeAt: now }, before?.id ?? null)
      await apply([{
        kind: 'meeting', at: now.getTime(), by: null, lead: c.lead, starts: at, minutes: c.minutes, with: c.owner.id, ...(before && { was: before.startsAt.getTime() }),
        notice: { subject: `${nameOf(lead)} ${before ? 'moved the meeting to' : 'meets you on'} ${words}`, text: `${nameOf(lead)} chose a time through “${c.entry.pointName}”: ${words}, ${c.minutes} minutes.`, meeting: meeting.entryId },
      }])
      // It goes to whoever chose: to the address that their entry gave, and once that is theirs, where it is only claimed.
      const claim = c.address && c.address.key !== lead.emailKey ? await openClaim(tx, c.lead, c.address.key) : undefined
      const recipient = claim?.address ?? (c.address && c.address.key !== lead.emailKey ? null : lead.email)
      if (recipient) await addMeetingLetter(tx, {
        id: newId(), lead: c.lead, entry: meeting.entryId, at: now, recipient, claim: claim?.id ?? null, subject: `${before ? 'Moved' : 'Agreed'}: ${words}`,
        body: `You meet ${c.owner.name} on ${words} (${c.zone.replace(/^.*\//, '').replace(/_/g, ' ')} time), for ${c.minutes} minutes. The calendar file is attached.\n\nAnother time suits you better? ${signedAddress('meet', c.entry.id)}`,
      })
    })
  } catch (error) {
    // Somebody else was faster by a moment.
    if ((error as { code?: string }).code === '23P01') return false
    throw error
  }
  await say(sql, { leads: [c.lead], notices: [c.owner.id], jobs: true })
  return true
}
