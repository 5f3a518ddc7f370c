import type { Deed, Heard } from '#core/chat/run'
import { sayIn } from '#core/languages/say'
import { freeTimes } from '#core/meetings/free'
import { parseEmail } from '#core/identity/email'
import { leadState } from '#db/book'
import { entryById } from '#db/entries'
import { takenTimes } from '#db/meetings'
import { choose, momentText, type Choosing } from '#server/meetings/choose'
import { push, type Talk } from '#server/chat/talk'

const MOST_OFFERED = 6
const DAY = 86_400_000

/** The owner's free times, for whom the conversation is with; null when it is not known whose it is. */
async function offered(talk: Talk, minutes: number, days: number): Promise<Choosing | null> {
  const { tx, c, ruleset, at, definition, language } = talk
  if (!c.leadId || !c.entryId) return null
  const [lead, entry] = await Promise.all([leadState(tx, c.leadId), entryById(tx, c.entryId)])
  const owner = lead?.ownerId ? ruleset.members.get(lead.ownerId) : undefined
  if (!owner || !entry) return null
  const taken = (await takenTimes(tx, owner.id, new Date(at), new Date(at + (days + 1) * DAY))).map(t => ({
    from: t.startsAt.getTime(),
    until: t.startsAt.getTime() + t.minutes * 60_000,
  }))
  const typed = c.place.answers[definition.questions.find(q => q.property === 'email')?.key ?? '']
  return {
    entry,
    lead: c.leadId,
    owner: { id: owner.id, name: owner.name },
    minutes,
    zone: ruleset.house.zone,
    chosen: null,
    theme: definition.theme,
    language,
    address: typeof typed === 'string' ? parseEmail(typed) : null,
    free: freeTimes(owner.hours, minutes, [...taken, ...owner.absences], at, days),
  }
}

/** Offers some times to meet: the next ones, of different days. */
export async function offerTimes(talk: Talk, { step, minutes, days }: Extract<Deed, { kind: 'times' }>): Promise<Heard | undefined> {
  const found = await offered(talk, minutes, days)
  const times = found ? spread(found.free) : []
  if (!times.length) return { kind: 'time', taken: false }
  push(talk, 'house', sayIn(talk.language)('chatTimes'), { kind: 'times', step, times })
  return undefined
}

/** Some of many times: as many days as there are places, early ones first. */
function spread(free: number[]): number[] {
  const byDay = new Map<number, number[]>()
  for (const at of free) byDay.set(Math.floor(at / DAY), [...(byDay.get(Math.floor(at / DAY)) ?? []), at])
  const each = Math.max(1, Math.ceil(MOST_OFFERED / byDay.size))
  return [...byDay.values()]
    .flatMap(times => Array.from({ length: Math.min(each, times.length) }, (_, i) => times[Math.floor((i * times.length) / each)]!))
    .slice(0, MOST_OFFERED)
}

/** Takes one of the times that were offered. @returns whether the meeting stands */
export async function takeTime(talk: Talk, step: string, at: number): Promise<boolean> {
  const own = talk.chat.flow.steps.find(s => s.key === step)
  if (own?.kind !== 'meet') return false
  const found = await offered(talk, own.minutes, own.days)
  if (!found || !(await choose(found, at))) return false
  push(talk, 'house', sayIn(talk.language)('chatAgreed', { when: momentText(at, found.zone, talk.language) }))
  return true
}
