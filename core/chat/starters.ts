import type { Chat } from '#core/chat/chat'
import type { Flow } from '#core/chat/shapes'
import { blankDefinition, blankQuestion, type PointDefinition } from '#core/points/definition'
import { NOWHERE } from '#core/appearing/nowhere'
import type { Starter } from '#core/points/starters'

const window = (flow: Flow): Chat => ({
  flow,
  place: 'corner',
  keep: 30,
  address: 'first',
  addressText: 'Should the line break: where may we write to?',
  away: 'Nobody is here just now.',
  within: 10,
})

/** A chat that says hello and hands over to a person. */
export function blankChat(name: string): PointDefinition {
  return {
    ...blankDefinition(name),
    display: { ...NOWHERE, placement: 'float', open: 'Ask us', small: true },
    questions: [blankQuestion({ key: 'email', kind: 'email', label: 'Where may we write to?', required: true, property: 'email' })],
    chat: window({
      start: 'hello',
      steps: [
        { kind: 'say', key: 'hello', text: 'Hello. What can we do for you?', picture: null, choices: [], then: 'person' },
        { kind: 'hand_over', key: 'person', text: '', to: 'plan', otherwise: 'email' },
        {
          kind: 'ask',
          key: 'email',
          question: 'email',
          text: 'Leave your address, and we write to you.',
          readBack: false,
          ways: [],
          then: 'take_in',
        },
        { kind: 'do', key: 'take_in', actions: [], entry: true, then: 'bye' },
        { kind: 'end', key: 'bye', text: 'Thank you. You hear from us.', rating: false },
      ],
    }),
  }
}

const choices = (...texts: string[]) => texts.map(text => ({ value: text, text }))

/** The chats to begin with. */
export const CHAT_STARTERS: Starter[] = [
  {
    key: 'three',
    name: 'Three questions',
    what: 'What, by when, and where to write; then a person',
    definition: {
      ...blankChat('Three questions'),
      questions: [
        blankQuestion({ key: 'what', kind: 'short_text', label: 'What are you planning?', property: 'message' }),
        blankQuestion({
          key: 'by',
          kind: 'one_of',
          label: 'By when should it be there?',
          choices: choices('Within three months', 'This year', 'I am only looking'),
        }),
        blankQuestion({ key: 'first_name', kind: 'short_text', label: 'What may we call you?', property: 'first_name' }),
        blankQuestion({ key: 'email', kind: 'email', label: 'Where may we write to?', required: true, property: 'email' }),
      ],
      chat: window({
        start: 'hello',
        steps: [
          {
            kind: 'say',
            key: 'hello',
            text: 'Hello. Three short questions, then one of us takes over.',
            picture: null,
            choices: [],
            then: 'what',
          },
          { kind: 'ask', key: 'what', question: 'what', text: '', readBack: false, ways: [], then: 'by' },
          { kind: 'ask', key: 'by', question: 'by', text: '', readBack: false, ways: [], then: 'first_name' },
          { kind: 'ask', key: 'first_name', question: 'first_name', text: '', readBack: false, ways: [], then: 'email' },
          { kind: 'ask', key: 'email', question: 'email', text: '', readBack: true, ways: [], then: 'take_in' },
          { kind: 'do', key: 'take_in', actions: [], entry: true, then: 'person' },
          { kind: 'hand_over', key: 'person', text: 'Thank you. One of us is with you in a moment.', to: 'plan', otherwise: 'later' },
          { kind: 'end', key: 'later', text: 'We write to you as soon as somebody is back.', rating: true },
        ],
      }),
    },
  },
  {
    key: 'answers',
    name: 'Answers from notes',
    what: 'Looks into your notes first, hands over when they say nothing',
    definition: {
      ...blankChat('Answers from notes'),
      chat: window({
        start: 'hello',
        steps: [
          {
            kind: 'say',
            key: 'hello',
            text: 'Hello. Ask away: much of it I can answer at once.',
            picture: null,
            choices: [],
            then: 'look',
          },
          { kind: 'look_up', key: 'look', text: '', then: 'more', otherwise: 'person' },
          {
            kind: 'say',
            key: 'more',
            text: 'Does that help?',
            picture: null,
            choices: [
              { text: 'Yes, thank you', to: 'bye' },
              { text: 'I have another question', to: 'look' },
              { text: 'I would like to talk to somebody', to: 'person' },
            ],
            then: 'look',
          },
          { kind: 'hand_over', key: 'person', text: 'I ask somebody of us.', to: 'plan', otherwise: 'email' },
          {
            kind: 'ask',
            key: 'email',
            question: 'email',
            text: 'Nobody is here just now. Where may we write to?',
            readBack: false,
            ways: [],
            then: 'take_in',
          },
          { kind: 'do', key: 'take_in', actions: [], entry: true, then: 'bye' },
          { kind: 'end', key: 'bye', text: 'Thank you, and a good day.', rating: true },
        ],
      }),
    },
  },
]
