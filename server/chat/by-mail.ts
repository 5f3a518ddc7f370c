import { isForUsAlone, MOST_MESSAGE } from '#core/chat/lines'
import { afterWorking } from '#core/working-time'
import type { IncomingFile } from '#core/capture/intake'
import type { Folded } from '#core/mails/incoming'
import { sayIn } from '#core/languages/say'
import { nameOf } from '#core/leads/lead'
import type { Sql } from '#db/client'
import {
  addConversation,
  addMessages,
  conversationById,
  leftUnread,
  messagesAfter,
  openTalkLike,
  saveConversation,
  type Conversation,
  type Message,
} from '#db/conversations'
import { addTalkFiles, mailTalkFiles } from '#db/files'
import { insertPersonal, noteReply, type PersonalMail } from '#db/personal-mail'
import { replyAddress } from '#server/follow-up/reply-address'
import { spokenIn } from '#server/chat/edition'
import { asTalkFiles, MOST_AT_ONCE, TALK_FILES } from '#server/chat/talk-files'
import { freshConversation, push, type Talk } from '#server/chat/talk'
import { within } from '#server/chat/within'
import { newSecret, secretHash } from '#server/chat/wire'
import { inspectAnswers, type Upload } from '#server/files/inspect'
import { newId } from '#server/ids'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/** Who has not read for so long what was said to them has left. */
const LEFT_MS = 2 * 60_000
const DAY = 86_400_000
const AT_ONCE = 20

/**
 * Writes to those who left a conversation what one of us said since; all of it in one mail, which they can answer.
 * @returns the conversations that went on so
 */
export async function mailUnread(sql: Sql, ruleset: () => Promise<Ruleset>, now: Date): Promise<string[]> {
  return sql.begin(async tx => {
    const left = await leftUnread(tx, new Date(now.getTime() - LEFT_MS), new Date(now.getTime() - DAY), AT_ONCE)
    if (!left.length) return []
    const { members, house } = await ruleset()
    for (const { email, firstName, lastName, ...c } of left) {
      const lines = await messagesAfter(tx, c.id, 0, false)
      const unread = lines.filter(m => m.by === 'member' && m.n > Math.max(c.mailed, c.seenByVisitor))
      const spoken = await spokenIn(tx, c)
      const words = sayIn(spoken.language)
      const member = members.get(unread.at(-1)!.memberId!)
      const [id, name] = [newId(now.getTime()), member?.name ?? house.name]
      const foot = words('chatMailFoot', { title: spoken.definition.title })
      await insertPersonal(tx, {
        id,
        lead: c.leadId!,
        recipient: email,
        recipientName: nameOf({ firstName, lastName, email, properties: {} }),
        conversation: c.id,
        fromName: name,
        replyTo: replyAddress(id),
        subject: words('chatMailSubject', { name }),
        text: [...unread.map(m => m.text), `${name}, ${house.name}`, foot, ...quoted(lines, unread[0]!.n)].join('\n\n'),
      })
      const talk = { c, added: [] as Message[], at: now.getTime() }
      const along = unread.flatMap(m => (m.more?.kind === 'files' ? m.more.files.map(f => f.id) : []))
      if (along.length) await mailTalkFiles(tx, along, id)
      push(talk, 'house', words('chatMailed'), { kind: 'mailed', to: email })
      c.mailed = c.last
      await saveConversation(tx, c)
      await addMessages(tx, talk.added)
    }
    return left.map(c => c.id)
  })
}

/** What they had said last, as mails quote it. */
function quoted(lines: readonly Message[], before: number): string[] {
  const own = lines.findLast(m => m.by === 'visitor' && m.n < before && m.text && !isForUsAlone(m.more))
  return own ? [own.text.replace(/^/gm, '> ')] : []
}

export interface TalkReply extends Folded {
  /** What came along. */
  files: Upload[]
  subject: string
  messageId: string
  /** Another address than the one that we wrote to. */
  from: string | null
  auto: boolean
}

/**
 * A mail came back: it goes on with the conversation; where that is over, with another of the same person, which it may begin. The same
 * mail twice is one.
 * @throws 404 when the conversation is not there any more
 */
export async function replyInto(sql: Sql, ruleset: Ruleset, delivery: string, sent: PersonalMail, mail: TalkReply): Promise<void> {
  const before = await conversationById(sql, sent.conversationId!)
  if (!before) throw problem(404, 'This answers a conversation that is not there any more.')
  const open = before.state !== 'ended' || mail.auto ? before.id : await openTalkLike(sql, before)
  const files = await thatCanBeTaken(mail.files)
  if (open === undefined) return beginByMail(sql, ruleset, before, delivery, mail, files)
  await within(open, async talk => {
    const { c, tx, at } = talk
    if (!(await noteReply(tx, { id: newId(at), messageId: mail.messageId, delivery, lead: c.leadId ?? sent.leadId }))) return
    await addTalkFiles(tx, c.id, files, null, null)
    pushMail(talk, mail, files)
    if (mail.auto || c.state === 'ended') return
    // Who writes by mail has left the flow: they wait for whoever wrote to them.
    if (c.state === 'flow') c.state = 'waiting'
    c.place = { ...c.place, at: null, waits: 'nothing', unsure: null }
    c.askedAt ??= new Date(at)
  })
}

/** Files of a mail that a conversation may hold; others are left out, as a mail cannot be asked to send them anew. */
async function thatCanBeTaken(uploads: Upload[]): Promise<IncomingFile[]> {
  const each = await Promise.all(uploads.slice(0, MOST_AT_ONCE).map(u => inspectAnswers('', [u], TALK_FILES, 1)))
  return each.flatMap(e => e.files)
}

function pushMail(talk: Pick<Talk, 'c' | 'added' | 'at'>, { text, subject, quoted, from, auto }: TalkReply, files: IncomingFile[]): void {
  push(talk, 'visitor', text.slice(0, MOST_MESSAGE), {
    kind: 'mail',
    subject,
    quoted: [text.slice(MOST_MESSAGE), quoted].filter(Boolean).join('\n\n'),
    from,
    auto,
  })
  if (files.length) push(talk, 'visitor', files.map(f => f.name).join(', '), { kind: 'files', files: asTalkFiles(files) })
}

/** Begins another conversation with whom an ended one was with. No browser holds it: what is answered goes by mail. */
async function beginByMail(
  sql: Sql,
  { members, house }: Ruleset,
  before: Conversation,
  delivery: string,
  mail: TalkReply,
  files: IncomingFile[],
): Promise<void> {
  const at = Date.now()
  const { chat } = await spokenIn(sql, before)
  const due = afterWorking(at, chat.within, house.hours)
  const { pointId, editionId, leadId, language } = before
  const c = freshConversation(at, {
    pointId,
    editionId,
    secret: secretHash(newSecret()),
    leadId,
    memberId: before.memberId && members.has(before.memberId) ? before.memberId : null,
    state: 'waiting',
    beganBy: 'mail',
    language,
    askedAt: new Date(at),
    dueAt: due === null ? null : new Date(due),
  })
  const begun = await sql.begin(async tx => {
    if (!(await noteReply(tx, { id: newId(at), messageId: mail.messageId, delivery, lead: before.leadId! }))) return false
    await addConversation(tx, c)
    const talk = { c, added: [] as Message[], at }
    await addTalkFiles(tx, c.id, files, null, null)
    pushMail(talk, mail, files)
    await saveConversation(tx, c)
    await addMessages(tx, talk.added)
    return true
  })
  if (begun) await say(sql, { conversations: [c.id], leads: [c.leadId!] })
}
