import { randomBytes } from 'node:crypto'
import type { ArchiveConversation, ArchiveSaid } from '#core/archive'
import type { IncomingFile } from '#core/capture/intake'
import type { More } from '#core/chat/lines'
import { BEGINNING } from '#core/chat/run'
import { takenIn } from '#core/chat/taken'
import type { Flaw } from '#core/flaws'
import { afterWorking } from '#core/working-time'
import type { Tx } from '#db/client'
import { addConversation, addMessages, type Conversation, type Message } from '#db/conversations'
import { addTalkFiles } from '#db/files'
import { addUnanswered } from '#db/notes'
import type { Point } from '#db/points'
import { receive } from '#server/capture/receive'
import { asTalkFiles, MOST_AT_ONCE, TALK_FILES } from '#server/chat/talk-files'
import { inspectAnswers } from '#server/files/inspect'
import { newId } from '#server/ids'
import { accept } from '#server/ingest/entries'
import type { Ruleset } from '#server/ruleset'

/** Keeps a conversation of the past; its answers are taken in as an entry, as they were then. */
export async function keepConversation(
  tx: Tx,
  ruleset: Ruleset,
  point: Point,
  line: ArchiveConversation,
  at: number,
  memberId: (email: string) => string,
  fail: (flaws: Flaw[]) => never,
): Promise<void> {
  const moment = (after: number) => new Date(at + after * 1000)
  const last = line.lines.at(-1)?.after ?? 0
  const live = point.live!
  const c: Conversation = {
    id: newId(at),
    pointId: point.id,
    editionId: live.id,
    secret: randomBytes(32),
    visitorId: null,
    leadId: null,
    entryId: null,
    memberId: line.member ? memberId(line.member) : null,
    state: line.state,
    beganAt: new Date(at),
    beganBy: line.began,
    place: { ...BEGINNING, answers: line.answers ?? {}, way: line.way ?? [] },
    page: line.page ?? null,
    language: live.definition.language,
    last: line.lines.length,
    lastAt: moment(last),
    seenByVisitor: line.lines.length,
    seenByUs: seenByUs(line),
    askedAt: line.asked === undefined ? null : moment(line.asked),
    dueAt: null,
    answeredAt: null,
    answeredBy: null,
    endedAt: line.state === 'ended' ? moment(last + 60) : null,
    rating: line.rating ?? null,
    ratingText: line.ratingText ?? null,
    mailed: line.lines.length,
    pool: null,
  }
  const due = c.askedAt && afterWorking(c.askedAt.getTime(), live.definition.chat!.within, ruleset.house.hours)
  c.dueAt = due ? new Date(due) : null
  const first = line.lines.find(m => m.by === 'member' && !m.note)
  if (first) {
    c.answeredAt = moment(first.after)
    c.answeredBy = memberId(first.member!)
    c.askedAt ??= c.answeredAt
  }
  if (line.answers) {
    const asked = takenIn(live.definition, line.answers, c.place.way)
    const { intake, flaws } = receive(point, { answers: line.answers, via: 'archive', page: line.page ?? null }, null, at + last * 1000, {
      reading: ruleset.reading,
      edition: { ...live, definition: asked },
    })
    const [result] = await accept(tx, ruleset, [intake ?? fail(flaws)], { mails: false })
    if (result?.kind === 'accepted') [c.entryId, c.leadId] = [result.entry, result.now.lead.id]
  }
  await addConversation(tx, c)
  if (line.unanswered) await addUnanswered(tx, { id: newId(at), text: line.unanswered, conversationId: c.id, at: c.askedAt ?? c.beganAt })
  const messages: Message[] = []
  for (const [i, said] of line.lines.entries()) {
    const files = await filesOf(said, fail)
    const sentBy = said.member ? memberId(said.member) : null
    await addTalkFiles(tx, c.id, files, sentBy, null)
    messages.push({
      conversationId: c.id,
      n: i + 1,
      id: newId(at + i),
      at: moment(said.after),
      by: said.by,
      memberId: sentBy,
      text: said.text,
      more: moreOf(said, files),
      isNote: said.note ?? false,
    })
  }
  await addMessages(tx, messages)
}

/** Up to which line we have read: nothing where somebody waits, and not what came by mail since one of us wrote. */
function seenByUs({ state, lines }: ArchiveConversation): number {
  if (state === 'waiting') return 0
  const byMail = lines.findIndex(l => l.mail)
  return state === 'talking' && byMail > lines.findLastIndex(l => l.by === 'member') ? byMail : lines.length
}

async function filesOf({ files = [] }: ArchiveSaid, fail: (flaws: Flaw[]) => never): Promise<IncomingFile[]> {
  const uploads = files.map(f => ({ field: 'files', name: f.name, content: Buffer.from(f.content, 'base64'), whole: true }))
  const seen = await inspectAnswers('', uploads, TALK_FILES, MOST_AT_ONCE)
  return seen.flaw ? fail([{ field: 'files', message: seen.flaw }]) : seen.files
}

function moreOf({ mail, mailed }: ArchiveSaid, files: IncomingFile[]): More | null {
  if (files.length) return { kind: 'files', files: asTalkFiles(files) }
  if (mail) return { kind: 'mail', subject: mail.subject, quoted: mail.quoted ?? '', from: null, auto: false }
  return mailed ? { kind: 'mailed', to: mailed } : null
}
