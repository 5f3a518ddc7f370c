import { DateTime } from 'luxon'
import type { Deed, Heard } from '#core/chat/run'
import { takenIn } from '#core/chat/taken'
import { inPool, poolOf } from '#core/chat/pools'
import { sayIn } from '#core/languages/say'
import { isThere, nextThere } from '#core/routing/colleagues'
import { may } from '#core/roles'
import { afterWorking } from '#core/working-time'
import { parseEmail } from '#core/identity/email'
import { filesAnswering } from '#db/files'
import { applicationContext } from '#server/application-context'
import { receive } from '#server/capture/receive'
import { push, type Talk } from '#server/chat/talk'
import { lookUp } from '#server/chat/notes'
import { offerTimes } from '#server/chat/times'

/** Does what a flow asks for outside of itself. @returns what it hears of that, where it waits for it */
export async function doOutside(talk: Talk, deed: Deed): Promise<Heard | undefined> {
  const { c } = talk
  switch (deed.kind) {
    case 'do':
      if (deed.entry) await takeIn(talk)
      return undefined
    case 'look_up':
      return lookUp(talk, deed.step, deed.words)
    case 'times':
      return offerTimes(talk, deed)
    case 'hand_over':
      return handOver(talk, deed.to)
    case 'end':
      // Whoever was promised an answer gets one, also when the flow has nothing more to say.
      if (c.askedAt && !c.answeredAt) {
        c.state = 'waiting'
        askAddress(talk)
        return undefined
      }
      end(talk, deed.rating)
      return undefined
  }
}

/** The conversation is over. @param asks whether it asks how it was */
export function end(talk: Talk, asks: boolean): void {
  const { c } = talk
  if (c.state === 'ended') return
  c.state = 'ended'
  c.endedAt = new Date(talk.at)
  c.place = { ...c.place, at: null, waits: 'nothing', unsure: null }
  talk.story.push({ what: 'ended', by: null })
  if (asks) push(talk, 'house', sayIn(talk.language)('chatRate'), { kind: 'rating' })
}

/** A moment in a visitor's language, in the house's zone: the hour, with its day where it is not today. */
export function momentFor({ language, ruleset, at }: Pick<Talk, 'language' | 'ruleset' | 'at'>, moment: number): string {
  const zone = ruleset.house.zone
  const [then, now] = [
    DateTime.fromMillis(moment, { zone, locale: language === 'ar' ? 'ar-u-nu-latn' : language }),
    DateTime.fromMillis(at, { zone }),
  ]
  return then.toFormat(then.hasSame(now, 'day') ? 'H:mm' : 'cccc H:mm')
}

/** Asks one of us in: whom the step names, the owner where it is known whose it is, or whoever is there first. */
export function handOver(talk: Talk, to: string): Heard {
  const { c, ruleset, at, chat, language } = talk
  const say = sayIn(language)
  const pool = poolOf(to)
  const anybody = to === 'plan' || pool !== null
  const colleagues = inPool(
    ruleset.plan.lanes,
    pool,
    [...ruleset.members.values()].filter(m => may(m.role, 'work leads')),
  )
  // Whose they are already goes before all others of whom somebody may take it.
  const named = anybody ? colleagues.find(m => m.id === (c.memberId ?? talk.talker.lead?.ownerId)) : ruleset.members.get(to)
  const one = named && isThere(named, at) ? named : undefined
  const there = anybody ? (one ?? colleagues.find(m => isThere(m, at))) : one
  c.pool = pool
  c.memberId = one?.id ?? (anybody ? null : (named?.id ?? null))
  c.askedAt ??= new Date(at)
  if (there) {
    c.state = 'waiting'
    const due = afterWorking(at, chat.within, ruleset.house.hours)
    c.dueAt = due === null ? null : new Date(due)
    push(talk, 'house', due === null ? say('chatWait') : `${say('chatWait')} ${say('chatPromise', { when: momentFor(talk, due) })}`)
    if (chat.address === 'first') askAddress(talk)
    return { kind: 'person', there: true }
  }
  const moments = (named && !anybody ? [named] : colleagues).map(m => nextThere(m, at)).filter(m => m !== null)
  const back = moments.length ? Math.min(...moments) : null
  const due = back === null ? null : afterWorking(back, chat.within, ruleset.house.hours)
  c.dueAt = due === null ? null : new Date(due)
  push(
    talk,
    'house',
    [chat.away, due === null ? '' : say('chatWhen', { when: momentFor(talk, due) })].filter(Boolean).join(' ') || say('chatWait'),
  )
  const step = chat.flow.steps.find(s => s.key === c.place.at)
  // Nobody reads on here by chance: where the flow goes on by itself it may ask for the address; otherwise we do.
  if (step?.kind === 'hand_over' && step.otherwise) return { kind: 'person', there: false }
  c.state = 'waiting'
  askAddress(talk)
  return { kind: 'person', there: true }
}

/** Offers to leave an address, to somebody whom we could not reach otherwise. */
export function askAddress(talk: Talk): void {
  const { c, chat, definition } = talk
  if (c.leadId || talk.talker.lead || !definition.questions.some(q => q.property === 'email')) return
  push(talk, 'house', chat.addressText || definition.questions.find(q => q.property === 'email')!.label, { kind: 'address' })
}

/**
 * Takes the answers in as an entry, with all that follows from one. Of the point's actions those are done that no step has of its
 * own, and those of the steps that were taken.
 */
export async function takeIn(talk: Talk): Promise<void> {
  const { c, edition, ruleset, language, at } = talk
  if (c.entryId) return
  const { cache, accept } = applicationContext()
  const point = await cache.point(talk.point.key)
  if (!point?.live) return push(talk, 'house', sayIn(language)('failed'))
  const answers = Object.fromEntries(Object.entries(c.place.answers).filter(([, a]) => a.length))
  const taken = takenIn(edition.definition, c.place.answers, c.place.way)
  const body = { answers, page: c.page, language, via: 'script', took: Math.min(2e9, at - c.beganAt.getTime()), edition: edition.number }
  const { intake, flaws } = receive(point, body, `chat-${c.id}`, at, {
    reading: ruleset.reading,
    edition: { ...edition, definition: taken },
    files: await filesAnswering(talk.tx, c.id),
  })
  if (!intake) return push(talk, 'house', flaws[0]?.message ?? sayIn(language)('failed'))
  intake.visitor = c.visitorId
  intake.sender = talk.sender
  // The questions of a conversation come one at a time: whoever answers them so is no machine that fills in a form.
  if (intake.suspect === 'too_fast') intake.suspect = null
  const result = await accept(intake)
  if (result.kind === 'closed') return push(talk, 'house', result.text)
  if (result.kind === 'key reused') return
  c.entryId = result.entry
  if (result.kind === 'accepted') {
    c.leadId = result.now.lead.id
    talk.tells.leads.push(c.leadId)
    if (c.state === 'flow' && !c.memberId) c.memberId = ownerThere(talk, result.now.lead.ownerId)
  }
  push(talk, 'house', '', { kind: 'entry', entry: result.entry })
}

/** Whose conversation it becomes when it is handed over: the owner's, when they are there. */
function ownerThere({ ruleset, at }: Talk, owner: string | null): string | null {
  const member = owner === null ? undefined : ruleset.members.get(owner)
  return member && isThere(member, at) ? member.id : null
}

/** Takes an address that was left: it becomes an answer, and the answers an entry. @returns what is wrong with it */
export async function leaveAddress(talk: Talk, typed: string): Promise<string | null> {
  const { c, definition, language } = talk
  const question = definition.questions.find(q => q.property === 'email')
  const email = parseEmail(typed.trim())
  if (!question || !email) return sayIn(language)('notEmail')
  c.place = { ...c.place, answers: { ...c.place.answers, [question.key]: email.address } }
  await takeIn(talk)
  push(talk, 'house', sayIn(language)('chatAddress'))
  return null
}
