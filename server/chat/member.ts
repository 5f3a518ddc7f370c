import { MOST_MESSAGE, type TalkFile } from '#core/chat/lines'
import { poolOf } from '#core/chat/pools'
import { sayIn } from '#core/languages/say'
import { may } from '#core/roles'
import { messagesAfter, wasSent } from '#db/conversations'
import type { Member } from '#db/members'
import { end } from '#server/chat/deeds'
import { messageText, push, refuseFull, type Talk } from '#server/chat/talk'
import { within } from '#server/chat/within'
import { problem } from '#server/problem'

const over = () => problem(409, 'This conversation is over; its visitor would not read it. Write them a mail from the lead’s page.')

/** The conversation is with somebody from now on. */
function becomes(talk: Talk, member: Pick<Member, 'id' | 'name'>): void {
  const { c, language } = talk
  if (c.memberId === member.id && c.state === 'talking') return
  c.memberId = member.id
  c.state = 'talking'
  c.place = { ...c.place, at: null, waits: 'nothing', unsure: null }
  push(talk, 'house', sayIn(language)('chatJoined', { name: member.name }), { kind: 'joined' })
}

interface MemberSaying {
  message: string
  text: string
  /** Instead of a text; they are kept already. */
  files?: TalkFile[]
  isNote: boolean
  /** The last line that whoever answers has seen. */
  after: number
}
/**
 * One of us says something. Who answers takes the conversation; what a colleague answered meanwhile is seen first.
 * @returns whether it was news
 * @throws 409 it is over, or somebody else has answered since
 */
export async function memberSays(id: string, member: Member, said: MemberSaying): Promise<boolean> {
  let isNews = false
  await within(id, async talk => {
    const { c } = talk
    if (await wasSent(talk.tx, id, said.message)) return
    isNews = true
    const text = said.files ? said.files.map(f => f.name).join(', ') : messageText(said.text, MOST_MESSAGE)
    const more = said.files ? { kind: 'files' as const, files: said.files } : null
    refuseFull(talk)
    if (said.isNote) return push(talk, 'member', text, more, { id: said.message, member: member.id, isNote: true })
    if (c.state === 'ended') throw over()
    const other = (await messagesAfter(talk.tx, id, said.after, false)).find(m => m.by === 'member' && m.memberId !== member.id)
    if (other)
      throw problem(
        409,
        `${talk.ruleset.members.get(other.memberId!)?.name ?? 'A colleague'} answered just now. Read it first; what you wrote is still here.`,
      )
    if (c.memberId !== null && c.memberId !== member.id && c.state === 'talking')
      throw problem(
        409,
        `${talk.ruleset.members.get(c.memberId)?.name ?? 'A colleague'} is in this conversation. Take it over first, or leave a note.`,
      )
    becomes(talk, member)
    push(talk, 'member', text, more, { id: said.message, member: member.id })
    c.seenByUs = c.last
    if (c.answeredAt === null) {
      c.answeredAt = new Date(talk.at)
      c.answeredBy = member.id
      c.askedAt ??= new Date(talk.at)
      talk.story.push({ what: 'answered', by: member.id })
    }
  })
  return isNews
}

/** Takes a conversation, or hands it on; with nobody it waits for whoever takes it first. @throws 404, 409, 422 */
export async function handTo(id: string, by: Member, to: string | null, words: string): Promise<void> {
  await within(id, async talk => {
    const { c, ruleset } = talk
    if (c.state === 'ended') throw over()
    const pool = to === null ? null : poolOf(to)
    if (pool !== null && !ruleset.plan.lanes.some(l => l.key === pool))
      throw problem(422, 'The routing plan has no such lane any more. Choose another.', [{ field: 'to', message: 'Choose another lane.' }])
    const receiver = to === null || pool !== null ? null : ruleset.members.get(to)
    if (to !== null && pool === null && (!receiver || !may(receiver.role, 'work leads')))
      throw problem(422, 'A conversation can be handed to whoever works leads. Choose somebody else.', [
        { field: 'to', message: 'Choose somebody who works leads.' },
      ])
    if (words) push(talk, 'member', words, { kind: 'handed', to }, { member: by.id, isNote: true })
    if (receiver && receiver.id === by.id) return becomes(talk, receiver)
    c.memberId = receiver?.id ?? null
    c.pool = pool
    c.state = 'waiting'
    c.place = { ...c.place, at: null, waits: 'nothing', unsure: null }
    c.askedAt ??= new Date(talk.at)
    if (!words) push(talk, 'member', '', { kind: 'handed', to }, { member: by.id, isNote: true })
  })
}

/** Ends a conversation. @throws 409 when it is over */
export async function endBy(id: string, by: Member): Promise<void> {
  await within(id, async talk => {
    if (talk.c.state === 'ended') throw problem(409, 'This conversation is over already.')
    push(talk, 'member', '', { kind: 'over' }, { member: by.id, isNote: true })
    end(talk, true)
  })
}
