import type { Chat } from '#core/chat/chat'
import type { Step } from '#core/chat/shapes'
import type { PointDefinition } from '#core/points/shapes/definition'

/** What visitors read of a chat beside its questions, by paths that stay when a step is moved. */
export function textsOfChat({ chat }: Pick<PointDefinition, 'chat'>): { path: string; called: string; text: string; long?: boolean }[] {
  if (!chat) return []
  return [
    ...chat.flow.steps.flatMap(step => {
      const at = `chat.steps.${step.key}`
      return [
        ...('text' in step ? [{ path: `${at}.text`, called: 'Said in the chat', text: step.text, long: true }] : []),
        ...(step.kind === 'say'
          ? step.choices.map((c, n) => ({ path: `${at}.choices.${n}`, called: 'To press in the chat', text: c.text }))
          : []),
      ]
    }),
    { path: 'chat.addressText', called: 'Where an address is asked for', text: chat.addressText },
    { path: 'chat.away', called: 'When nobody is there', text: chat.away },
  ]
}

type Say = (path: string, text: string) => string

/** A chat in other words: the same steps, and ways between them. */
export const chatInTongue = (chat: Chat, say: Say): Chat => ({
  ...chat,
  addressText: say('chat.addressText', chat.addressText),
  away: say('chat.away', chat.away),
  flow: { ...chat.flow, steps: chat.flow.steps.map(step => stepInTongue(step, say)) },
})

function stepInTongue(step: Step, say: Say): Step {
  if (!('text' in step)) return step
  const at = `chat.steps.${step.key}`
  const said = { ...step, text: say(`${at}.text`, step.text) }
  return said.kind === 'say' ? { ...said, choices: said.choices.map((c, n) => ({ ...c, text: say(`${at}.choices.${n}`, c.text) })) } : said
}
