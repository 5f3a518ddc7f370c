import type { Chat } from '#core/chat/chat'
import type { More, PublicLine, PublicState } from '#core/chat/lines'
import { pointWords } from '#core/languages/point-words'
import { sayIn } from '#core/languages/say'
import type { Language } from '#core/languages/language'
import { publicQuestion, type PointDefinition } from '#core/points/definition'
import { questionMarkup } from '#core/points/markup'
import { pictureMarkup } from '#core/points/pictures'
import type { Conversation, Message } from '#db/conversations'
import { momentFor } from '#server/chat/deeds'
import type { Ruleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'

type Shown = Pick<Conversation, 'state' | 'place' | 'last' | 'seenByUs' | 'memberId' | 'rating' | 'leadId'>

/** What a conversation waits for, as its visitor's window shows it; and the last line that asks for it. */
export function stateOf(c: Shown, messages: readonly Message[], ruleset: Ruleset): PublicState & { asked: Message | null } {
  const asking = (...kinds: More['kind'][]) => messages.findLast(m => m.more && kinds.includes(m.more.kind) && !m.isNote) ?? null
  const rest = { open: c.state !== 'ended', read: c.seenByUs, last: c.last, with: c.state === 'talking' && c.memberId ? (ruleset.members.get(c.memberId)?.name ?? null) : null }
  if (c.state === 'ended') {
    const asked = c.rating === null ? asking('rating') : null
    return { ...rest, waits: asked ? 'rating' : 'nothing', asked }
  }
  const at = (kind: More['kind']) => {
    const found = asking(kind)
    return found && 'step' in found.more! && found.more.step === c.place.at ? found : null
  }
  if (c.state === 'flow' && c.place.at !== null) {
    if (c.place.waits === 'choice') return { ...rest, waits: 'choice', asked: at('choices') }
    if (c.place.waits === 'answer') return { ...rest, waits: 'answer', asked: at('question') }
    if (c.place.waits === 'right') return { ...rest, waits: 'right', asked: at('read_back') }
    if (c.place.waits === 'time') return { ...rest, waits: 'time', asked: at('times') }
    if (c.place.waits === 'found') return { ...rest, waits: 'mean', asked: at('mean') }
    return { ...rest, waits: 'words', asked: null }
  }
  const address = c.leadId === null ? asking('address') : null
  return { ...rest, waits: address ? 'address' : 'nothing', asked: address }
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
    // Whoever has left goes by the name of the chat.
    const name = m.by === 'member' ? ((m.memberId && around.ruleset.members.get(m.memberId)?.name) || around.definition.title) : undefined
    const active = m.n === asked?.n ? offeredBy(m, around) : {}
    return [{ n: m.n, id: m.id, at: m.at.getTime(), by: m.by, text: m.text, ...(name && { name }), ...(m.more && { what: m.more.kind }), ...(m.more?.kind === 'note' && { from: sayIn(around.language)('chatNote', { name: m.more.name }) }), ...pictureIn(m, around), ...active }]
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
      return q ? { html: questionMarkup({ ...publicQuestion(q, language), preset: undefined, parameter: undefined, as: undefined }, q.preset || '', undefined, pointWords(sayIn(language)), ownAddress()) } : {}
    }
    case 'address': {
      const q = definition.questions.find(o => o.property === 'email')
      return q ? { html: questionMarkup({ ...publicQuestion(q, language), required: true }, '', undefined, pointWords(sayIn(language)), ownAddress()) } : {}
    }
    default:
      return {}
  }
}

function pictureIn({ more }: Message, { chat }: Around): Pick<PublicLine, 'html'> {
  if (more?.kind !== 'picture') return {}
  const step = chat.flow.steps.find(s => s.key === more.step)
  return step?.kind === 'say' && step.picture ? { html: pictureMarkup(step.picture, '300px', 320, ownAddress()) } : {}
}
