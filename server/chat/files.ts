import type { H3Event } from 'h3'
import type { IncomingFile } from '#core/capture/intake'
import type { TalkFile } from '#core/chat/lines'
import { sayIn } from '#core/languages/say'
import { mostFiles } from '#core/points/answers'
import type { Question } from '#core/points/definition'
import { wasSent, type Conversation } from '#db/conversations'
import { addTalkFiles, countTalkFiles, dropTalkFiles } from '#db/files'
import { advance } from '#server/chat/advance'
import { spokenIn } from '#server/chat/edition'
import { asTalkFiles, MOST_AT_ONCE, TALK_FILES } from '#server/chat/talk-files'
import { push, refuseFull, type Talk } from '#server/chat/talk'
import { askedIn } from '#server/chat/view'
import { hearText, windowView, type WindowView } from '#server/chat/visitor'
import type { SentFiles } from '#server/chat/wire'
import { within } from '#server/chat/within'
import { markOf } from '#server/capture/sender'
import { database } from '#server/database'
import { inspectAnswers, type Upload } from '#server/files/inspect'
import { problem } from '#server/problem'

/** Files in one conversation. */
const MOST_IN_TALK = 40

const wrong = (message: string) => problem(422, message, [{ field: 'file', message }])

/** Looks into files that are to stand in a conversation. @throws 422 with what to do */
export async function inspected(uploads: Upload[], question?: Pick<Question, 'files' | 'limits' | 'key'>): Promise<IncomingFile[]> {
  if (!uploads.length) throw wrong('No file came along. Choose one.')
  const { files, flaw } = await inspectAnswers(
    question?.key ?? '',
    uploads,
    question?.files ?? TALK_FILES,
    question ? mostFiles(question) : MOST_AT_ONCE,
  )
  if (flaw) throw wrong(flaw)
  return files
}

/**
 * Keeps files, and says so in their conversation. They are kept before: what takes the answers in goes through a connection of its own,
 * which sees only what is written. When nothing comes of it, they are let go.
 * @param member who of us sends them; null: the visitor
 */
export async function withFiles(
  conversation: string,
  files: IncomingFile[],
  member: string | null,
  question: string | null,
  tell: (talkFiles: TalkFile[]) => Promise<boolean>,
): Promise<void> {
  const sql = database()
  if ((await countTalkFiles(sql, conversation)) + files.length > MOST_IN_TALK)
    throw wrong(`At most ${MOST_IN_TALK} files fit into one conversation. Send more by mail.`)
  const ids = files.map(f => f.id)
  await addTalkFiles(sql, conversation, files, member, question)
  const taken = await tell(asTalkFiles(files)).catch(async (error: unknown) => {
    await dropTalkFiles(sql, ids)
    throw error
  })
  if (!taken) await dropTalkFiles(sql, ids)
}

/**
 * Takes files that a visitor sends: as the answer to a question for them, or by the way.
 * @throws 409 nothing of the kind is asked for just now, 422 a file cannot be taken
 */
export async function visitorSends(event: H3Event, c: Conversation, sent: SentFiles, uploads: Upload[]): Promise<WindowView> {
  const spoken = await spokenIn(database(), c)
  const asked = sent.to ? await askedIn(database(), c) : null
  const question =
    asked && asked.n === sent.to && asked.more?.kind === 'question'
      ? spoken.definition.questions.find(q => q.key === (asked.more as { question: string }).question)
      : undefined
  if (sent.to && question?.kind !== 'file' && !(await wasSent(database(), c.id, sent.message))) throw stale(spoken)
  const files = await inspected(uploads, question)
  let after: Conversation = c
  await withFiles(c.id, files, null, question?.key ?? null, async talkFiles => {
    let taken = false
    after = await within(
      c.id,
      async talk => {
        if (await wasSent(talk.tx, c.id, sent.message)) return
        refuseFull(talk)
        await take(talk, sent, talkFiles, question?.key ?? null)
        taken = true
      },
      markOf(event),
    )
    return taken
  })
  return windowView(after, sent.after)
}

const stale = ({ language }: Pick<Talk, 'language'>) => problem(409, sayIn(language)('failed'))

async function take(talk: Talk, sent: SentFiles, files: TalkFile[], question: string | null): Promise<void> {
  const { c, tx } = talk
  if (c.state === 'ended') throw problem(409, sayIn(talk.language)('chatOver'))
  const names = files.map(f => f.name)
  const own = () =>
    push(talk, 'visitor', names.join(', '), { kind: 'files', files, ...(question !== null && { question }) }, { id: sent.message })
  c.seenByVisitor = c.last
  if (question !== null) {
    if ((await askedIn(tx, c))?.n !== sent.to) throw stale(talk)
    own()
    return advance(talk, { kind: 'answer', value: names })
  }
  // What the flow asks for is something else: it would be taken for no answer.
  if (c.state === 'flow' && c.place.at !== null) throw stale(talk)
  own()
  await hearText(talk, names.join(', '))
}
