import type { Chat } from '#core/chat/chat'
import { isForUsAlone, type More, type PublicLine, type PublicState } from '#core/chat/lines'
import { PICTURE_TYPES } from '#core/files/kinds'
import { pointWords } from '#core/languages/point-words'
import { sayIn } from '#core/languages/say'
import type { Language } from '#core/languages/language'
import { publicQuestion, type PointDefinition } from '#core/points/definition'
import { questionMarkup } from '#core/points/markup'
import { richText } from '#core/pages/markup'
import { pictureMarkup } from '#core/points/pictures'
import type { Db } from '#db/client'
import { lastOfKind, type Conversation, type Message } from '#db/conversations'
import { momentFor } from '#server/chat/deeds'
import { talkFileAddress } from '#server/chat/file-address'
import type { Ruleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'

type Shown = Pick<Conversation, 'id' | 'state' | 'place' | 'last' | 'seenByUs' | 'memberId' | 'rating' | 'leadId'>

/** What beside a line a conversation waits for an answer to, by the flow's own waiting. */
const ASKED_BY: Partial<Record<Conversation['place']['waits'], [PublicState['waits'], More['kind']]>> = {
  choice: ['choice', 'choices'],
  answer: ['answer', 'question'],
  right: ['right', 'read_back'],
  time: ['time', 'times'],
  found: ['mean', 'mean'],
}
const inFlow = (c: Shown) => c.state === 'flow' && c.place.at !== null

/** The line that a conversation waits for an answer to; null: it waits for none. */
export async function askedIn(db: Db, c: Shown): Promise<Message | null> {
  const last = (kind: More['kind']) => lastOfKind(db, c.id, kind, c.last)
  if (c.state === 'ended') return c.rating === null ? last('rating') : null
  if (!inFlow(c)) return c.leadId === null ? last('address') : null
  const kind = ASKED_BY[c.place.waits]?.[1]
  const found = kind ? await last(kind) : null
  return found && 'step' in found.more! && found.more.step === c.place.at ? found : null
}

/** Where a conversation stands, as its visitor's window shows it. @param asked as `askedIn` gives it */
export function stateOf(c: Shown, asked: Message | null, ruleset: Ruleset): PublicState {
  const member = c.state === 'talking' && c.memberId ? ruleset.members.get(c.memberId) : undefined
  const waits = c.state === 'ended' ? 'rating' : inFlow(c) ? (ASKED_BY[c.place.waits]?.[0] ?? 'words') : 'address'
  return {
    open: c.state !== 'ended',
    read: c.seenByUs,
    last: c.last,
    with: member?.name ?? null,
    waits: asked || waits === 'words' ? waits : 'nothing',
  }
}

interface Around {
  definition: PointDefinition
  chat: Chat
  language: Language
  ruleset: Ruleset
  at: number
}

/** Lines as their visitor gets them: what is among colleagues, and what only we need, is not in them. */
export function linesFor(messages: readonly Message[], asked: Message | null, around: Around): PublicLine[] {
  return messages.flatMap((m): PublicLine[] => {
    if (m.isNote || m.more?.kind === 'entry') return []
    if (isForUsAlone(m.more)) return []
    // Whoever has left goes by the name of the chat.
    const name = m.by === 'member' ? (m.memberId && around.ruleset.members.get(m.memberId)?.name) || around.definition.title : undefined
    const active = m.n === asked?.n ? offeredBy(m, around) : {}
    return [
      {
        n: m.n,
        id: m.id,
        at: m.at.getTime(),
        by: m.by,
        text: m.text,
        ...(name && { name }),
        ...(m.more && { what: m.more.kind }),
        ...(m.more?.kind === 'note' && { from: sayIn(around.language)('chatNote', { name: m.more.name }) }),
        ...drawnIn(m, around),
        ...filesIn(m),
        ...active,
      },
    ]
  })
}

function offeredBy({ more }: Message, around: Around): Pick<PublicLine, 'choices' | 'html'> {
  const { definition, language } = around
  switch (more?.kind) {
    case 'choices':
      return { choices: more.choices }
    case 'read_back':
      return { choices: [sayIn(language)('yes'), sayIn(language)('chatWrong')] }
    case 'times':
      return { choices: [...more.times.map(t => momentFor({ ...around, at: 0 }, t)), sayIn(language)('chatNone')] }
    case 'mean':
      return { choices: [...more.choices, sayIn(language)('chatNone')] }
    case 'question': {
      const q = definition.questions.find(o => o.key === more.question)
      return q
        ? {
            html: questionMarkup(
              { ...publicQuestion(q, language), preset: undefined, parameter: undefined, as: undefined },
              q.preset || '',
              undefined,
              pointWords(sayIn(language)),
              ownAddress(),
            ),
          }
        : {}
    }
    case 'address': {
      const q = definition.questions.find(o => o.property === 'email')
      return q
        ? {
            html: questionMarkup(
              { ...publicQuestion(q, language), required: true },
              '',
              undefined,
              pointWords(sayIn(language)),
              ownAddress(),
            ),
          }
        : {}
    }
    default:
      return {}
  }
}

const filesIn = ({ more }: Message): Pick<PublicLine, 'files'> =>
  more?.kind === 'files'
    ? {
        files: more.files.map(({ id, name, size, type }) => ({
          name,
          size,
          url: talkFileAddress(id),
          isPicture: PICTURE_TYPES.includes(type),
        })),
      }
    : {}

function drawnIn({ more, text }: Message, { chat }: Around): Pick<PublicLine, 'html'> {
  if (more?.kind === 'note') return { html: richText(text) }
  if (more?.kind !== 'picture') return {}
  const step = chat.flow.steps.find(s => s.key === more.step)
  return step?.kind === 'say' && step.picture ? { html: pictureMarkup(step.picture, '300px', 320, ownAddress()) } : {}
}
