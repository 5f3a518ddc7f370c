import type { H3Event } from 'h3'
import { MOST_MESSAGE, type PublicLine, type PublicState } from '#core/chat/lines'
import { sayIn } from '#core/languages/say'
import { languagesOf } from '#core/points/translations'
import { addConversation, addMessages, messagesBetween, saveConversation, wasSent, type Conversation } from '#db/conversations'
import { applicationContext } from '#server/application-context'
import { handOver, leaveAddress } from '#server/chat/deeds'
import { leaveOpen, takeMeant } from '#server/chat/notes'
import { advance } from '#server/chat/advance'
import { freshConversation, inWords, messageText, push, refuseFull, type Talk } from '#server/chat/talk'
import { talkOf, tellOf, within } from '#server/chat/within'
import { takeTime } from '#server/chat/times'
import { spokenIn } from '#server/chat/edition'
import { askedIn, linesFor, stateOf } from '#server/chat/view'
import { newSecret, secretHash, type Beginning, type Saying } from '#server/chat/wire'
import { markOf } from '#server/capture/sender'
import { closedNow } from '#server/capture/closed'
import { problem } from '#server/problem'
import { browserId } from '#server/trail/browser'

/** What a visitor's window shows: the lines after the last that it has, and where the conversation stands. */
export interface WindowView {
  lines: PublicLine[]
  state: PublicState
}

/** A conversation for its visitor. @param after the last line they have; what is waited for comes anew, so that it can be answered */
export async function windowView(c: Conversation, after: number): Promise<WindowView> {
  const { sql, cache } = applicationContext()
  const [ruleset, spoken, asked, messages] = await Promise.all([
    cache.ruleset(),
    spokenIn(sql, c),
    askedIn(sql, c),
    messagesBetween(sql, c.id, after, c.last),
  ])
  const state = stateOf(c, asked, ruleset)
  const shown = asked && asked.n <= after ? [asked, ...messages] : messages
  const lines = linesFor(shown, asked, { ...spoken, ruleset, at: Date.now() })
  return { lines, state }
}

/** Begins a conversation: its flow speaks first. @throws 404, 410 */
export async function beginConversation(event: H3Event, wish: Beginning): Promise<{ id: string; secret: string } & WindowView> {
  const { sql, cache } = applicationContext()
  const point = await cache.point(wish.point)
  const live = point?.live
  if (!point || !live?.definition.chat) throw problem(404, 'There is no such chat, or it is not live.')
  const closed = await closedNow({ ...point, live })
  if (closed !== null) throw problem(410, closed)
  const ruleset = await cache.ruleset()
  const now = Date.now()
  const secret = newSecret()
  const language = languagesOf(live.definition).find(l => l === wish.language) ?? live.definition.language
  const c = freshConversation(now, {
    pointId: point.id,
    editionId: live.id,
    secret: secretHash(secret),
    visitorId: wish.visitor ? browserId(wish.visitor) : null,
    beganBy: wish.by ?? 'tab',
    page: wish.page?.slice(0, 4000) || null,
    language,
  })
  const talk = await sql.begin(async tx => {
    const t = await talkOf(tx, ruleset, c, markOf(event))
    if (t.talker.lead) c.leadId = t.talker.lead.id
    await addConversation(tx, c)
    await advance(t, null)
    await saveConversation(tx, c)
    await addMessages(tx, t.added)
    return t
  })
  await tellOf(talk)
  return { id: c.id, secret, ...(await windowView(c, 0)) }
}

/**
 * Takes what a visitor says. The same under the same id is taken once.
 * @throws 409 what it answers is not asked any more, 422 it cannot be read
 */
export async function visitorSays(event: H3Event, c: Conversation, said: Saying): Promise<WindowView> {
  let after: Conversation = c
  after = await within(
    c.id,
    async talk => {
      if (await wasSent(talk.tx, c.id, said.message)) return
      refuseFull(talk)
      await take(talk, said)
    },
    markOf(event),
  )
  return windowView(after, said.after)
}

async function take(talk: Talk, said: Saying): Promise<void> {
  const { c, ruleset } = talk
  const asked = await askedIn(talk.tx, c)
  const state = stateOf(c, asked, ruleset)
  const say = sayIn(talk.language)
  c.seenByVisitor = c.last
  const own = (text: string, more: Parameters<typeof push>[3] = null) => push(talk, 'visitor', text, more, { id: said.message })
  // A page that stood open while something else was said answers what is not asked any more.
  const stale = () => problem(409, say('failed'))
  if (said.kind === 'rating') {
    if (state.waits !== 'rating') throw stale()
    if (!said.n || said.n > 5) throw problem(422, 'A rating is one of five.', [{ field: 'n', message: 'A number from 1 to 5.' }])
    c.rating = said.n
    c.ratingText = said.text?.trim() ? messageText(said.text, MOST_MESSAGE) : null
    own([say(`chatRate${said.n}` as 'chatRate1'), c.ratingText].filter(Boolean).join('. '))
    talk.story.push({ what: 'rated', by: null, rating: said.n, ...(c.ratingText && { words: c.ratingText }) })
    return push(talk, 'house', say('chatThanks'))
  }
  if (c.state === 'ended') throw problem(409, say('chatOver'))
  if (said.kind === 'address') {
    if (state.waits !== 'address') throw stale()
    const flaw = await leaveAddress(talk, said.text ?? '')
    if (flaw) throw problem(422, flaw, [{ field: 'text', message: flaw }])
    // What they left stands before what we say of it.
    return ownBefore(talk, said.message, said.text!.trim())
  }
  if (said.kind === 'text') {
    const text = messageText(said.text ?? '', MOST_MESSAGE)
    own(text)
    return hearText(talk, text)
  }
  const more = asked?.more
  if (!more || (said.to && said.to !== asked.n)) throw stale()
  if (said.kind === 'answer') {
    if (more.kind !== 'question') throw stale()
    const q = talk.definition.questions.find(o => o.key === more.question)
    // A file comes itself; who says its name has sent none.
    if (q?.kind === 'file' && said.values!.length) throw problem(422, say('chooseFile'), [{ field: 'values', message: say('chooseFile') }])
    const value = q?.kind === 'some_of' ? said.values! : (said.values?.[0] ?? '')
    own(value.length ? inWords(talk, more.question, value) : say('chatSkip'), { kind: 'answer', question: more.question })
    return advance(talk, { kind: 'answer', value })
  }
  await choose(talk, more, said.n ?? -1, own)
}

/** A line of the visitor's own, put in front of what came of it. */
function ownBefore(talk: Talk, id: string, text: string): void {
  push(talk, 'visitor', text, null, { id })
  const line = talk.added.pop()!
  talk.added.unshift(line)
  talk.added.forEach((m, i) => (m.n = talk.c.last - talk.added.length + 1 + i))
}

async function choose(
  talk: Talk,
  asked: NonNullable<Talk['added'][number]['more']>,
  n: number,
  own: (text: string) => void,
): Promise<void> {
  const say = sayIn(talk.language)
  const wrong = () => problem(422, 'That was not offered.', [{ field: 'n', message: 'The place of one of the choices.' }])
  if (asked.kind === 'choices') {
    if (!asked.choices[n]) throw wrong()
    own(asked.choices[n])
    return advance(talk, { kind: 'choice', n })
  }
  if (asked.kind === 'read_back') {
    if (n !== 0 && n !== 1) throw wrong()
    own(say(n === 0 ? 'yes' : 'chatWrong'))
    return advance(talk, { kind: 'right', yes: n === 0 })
  }
  if (asked.kind === 'times') {
    const at = asked.times[n]
    if (at === undefined && n !== asked.times.length) throw wrong()
    own(
      at === undefined
        ? say('chatNone')
        : linesFor([{ ...EMPTY, n: 1, more: { ...asked, times: [at] } }], { ...EMPTY, n: 1 }, talk)[0]!.choices![0]!,
    )
    if (at === undefined) return advance(talk, { kind: 'time', taken: false })
    if (await takeTime(talk, asked.step, at)) return advance(talk, { kind: 'time', taken: true })
    return push(talk, 'house', say('chatTaken'), { ...asked, times: asked.times.filter(t => t !== at) })
  }
  if (asked.kind === 'mean') {
    if (!asked.choices[n] && n !== asked.choices.length) throw wrong()
    own(asked.choices[n] ?? say('chatNone'))
    const meant = Boolean(asked.notes[n] && (await takeMeant(talk, asked.notes[n])))
    if (!meant) await leaveOpen(talk, asked.asked)
    return advance(talk, { kind: 'found', what: meant ? 'answered' : 'nothing' })
  }
  throw wrong()
}
const EMPTY = {
  conversationId: '',
  id: '',
  at: new Date(0),
  by: 'house' as const,
  memberId: null,
  text: '',
  isNote: false,
  n: 0,
  more: null,
}

/** Hears what was typed: the flow where it listens, else whoever of us is there, or is asked in now. */
export async function hearText(talk: Talk, text: string): Promise<void> {
  const { c } = talk
  if (c.state !== 'flow') return
  if (c.place.at === null) {
    c.state = 'waiting'
    handOver(talk, 'plan')
    return
  }
  // Who goes on typing has chosen none of the times, and meant none of the notes.
  if (c.place.waits === 'time') return advance(talk, { kind: 'time', taken: false })
  if (c.place.waits === 'found') await advance(talk, { kind: 'found', what: 'again' })
  return advance(talk, { kind: 'text', text })
}
