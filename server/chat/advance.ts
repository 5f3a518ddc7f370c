import { filled, type More } from '#core/chat/lines'
import { goOn, type Heard, type Turn } from '#core/chat/run'
import { sayIn } from '#core/languages/say'
import { nameOf, propertyOf } from '#core/leads/lead'
import { preparedFor } from '#server/chat/around'
import { doOutside } from '#server/chat/deeds'
import { inWords, push, type Talk } from '#server/chat/talk'

/** Lets the flow begin, or hear something; does what it asks for outside, and goes on until it waits. @param heard null: it begins */
export async function advance(talk: Talk, heard: Heard | null): Promise<void> {
  const { c } = talk
  const { flow, around } = await preparedFor(talk.tx, talk.ruleset, talk.definition, talk.point.key, talk.talker, talk.language)
  for (let next: Heard | null | undefined = heard; next !== undefined;) {
    const turn: Turn = goOn(flow, c.place, next, around)
    c.place = turn.place
    for (const line of turn.lines) speak(talk, line)
    next = undefined
    for (const deed of turn.deeds) next = (await doOutside(talk, deed)) ?? next
  }
}

/** One line of the flow, with its placeholders filled in. */
function speak(talk: Talk, line: Turn['lines'][number]): void {
  const { definition, language } = talk
  const own = sayIn(language)
  const fill = (text: string) => filled(text, name => known(talk, name))
  const label = (key: string) => definition.questions.find(q => q.key === key)?.label ?? ''
  switch (line.kind) {
    case 'text':
      return push(talk, 'flow', fill(line.text), pictureOf(talk, line.step))
    case 'choices':
      return push(talk, 'flow', '', { kind: 'choices', step: line.step, choices: line.choices })
    case 'question':
      return push(talk, 'flow', fill(line.text) || label(line.question), { kind: 'question', step: line.step, question: line.question })
    case 'read_back':
      return push(talk, 'flow', own('chatRight', { answer: inWords(talk, line.question, line.answer) }), {
        kind: 'read_back',
        step: line.step,
      })
    case 'flaw':
      return push(talk, 'flow', line.text, { kind: 'flaw', step: line.step })
  }
}

function pictureOf({ chat }: Talk, key: string): More | null {
  const step = chat.flow.steps.find(s => s.key === key)
  return step?.kind === 'say' && step.picture ? { kind: 'picture', step: key } : null
}

/** What a placeholder of a flow stands for: an answer of this conversation, or what is known in a browser that is the person's. */
function known(talk: Talk, name: string): string | null {
  const { c, talker, definition } = talk
  if (name.startsWith('answer.')) {
    const key = name.slice(7)
    return Object.hasOwn(c.place.answers, key) ? inWords(talk, key, c.place.answers[key]!) : null
  }
  const property = name.replace(/^lead\./, '')
  const answered = definition.questions.find(q => q.property === property && Object.hasOwn(c.place.answers, q.key))
  if (answered) return inWords(talk, answered.key, c.place.answers[answered.key]!)
  if (!name.startsWith('lead.') || !talker.lead || talker.lead.guardedAt !== null) return null
  if (property === 'name') return nameOf(talker.lead)
  const value = propertyOf(talker.lead, property)
  return value === null ? null : [value].flat().join(', ')
}
