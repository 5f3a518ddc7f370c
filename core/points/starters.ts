import { addedAction } from '#core/actions/edit'
import { blankDefinition, blankQuestion, type PointDefinition, type Question } from '#core/points/definition'
import { firstMail, HELLO } from '#core/points/mails'

/** A form to begin with, for an occasion that many have. */
export interface Starter {
  key: string
  name: string
  what: string
  definition: PointDefinition
}

const q = (key: string, kind: Question['kind'], label: string, more: Partial<Question> = {}) => blankQuestion({ key, kind, label, ...more })
const email = q('email', 'email', 'E-mail address', { required: true, property: 'email' })
const firstName = q('first_name', 'short_text', 'First name', { required: true, property: 'first_name' })
const lastName = q('last_name', 'short_text', 'Last name', { property: 'last_name' })
const company = q('company', 'short_text', 'Firm or institution', { property: 'company', help: 'Leave it empty if it is for yourself.' })
const phone = q('phone', 'phone', 'Phone number', { property: 'phone', help: 'So that we can find a date with you.' })
const message = (label: string, more: Partial<Question> = {}) =>
  q('message', 'long_text', label, { property: 'message', help: 'A few words are enough.', ...more })
const some = (...texts: string[]) => texts.map(text => ({ value: text, text }))

const form = (title: string, intro: string, questions: Question[], button: string, thanks: string, tags: string[]): PointDefinition => ({
  ...blankDefinition(title),
  intro,
  questions,
  button,
  thanks,
  actions: [{ key: 'tag', kind: 'tag', tags }],
})

/** With a file that is downloaded at once and goes out by mail: it is chosen once, for both. */
const handingOver = (definition: PointDefinition): PointDefinition =>
  addedAction({ ...definition, next: { kind: 'file', file: null } }, 'mail', {
    ...firstMail(false),
    subject: '{{lead.first_name}}, here is what you asked for',
    text: `${HELLO}\n\nthank you for asking. Here it is:\n\n{{link}}\n\nIf a question comes up while you read, just answer this mail.`,
    goal: { kind: 'file', file: null },
  })

/** The forms to begin with. What they fill are properties that each house has, or that stand alone where it has not. */
export const STARTERS: Starter[] = [
  {
    key: 'visit',
    name: 'Ask for a visit',
    what: 'Somebody comes and looks',
    definition: form(
      'Ask us to come and look',
      'One of us comes to you. After an hour you know what is possible.',
      [
        q('when', 'one_of', 'When would it suit you?', { required: true, choices: some('This week', 'Next week', 'Later') }),
        firstName,
        company,
        email,
        { ...phone, required: true },
        message('What should we look at?'),
      ],
      'Ask for a visit',
      'Thank you. One of us will call within a working day to find a date.',
      ['visit'],
    ),
  },
  {
    key: 'guide',
    name: 'Download a guide',
    what: 'Something to read for an address',
    definition: handingOver(
      form(
        'Read the guide',
        'Twenty pages, no advertising. We send it to the address you give.',
        [firstName, email, q('journal', 'consent', 'You may also send me your letters, four times a year. I can leave at any time.')],
        'Send me the guide',
        'Thank you. It is on its way to you.',
        ['guide'],
      ),
    ),
  },
  {
    key: 'day',
    name: 'Register for a day',
    what: 'A place at an event',
    definition: form(
      'Keep me a place',
      'Come by, look around, ask everything.',
      [
        q('people', 'number', 'How many of you will come?', { required: true, preset: '1', limits: { least: 1, most: 12 } }),
        firstName,
        lastName,
        email,
      ],
      'Keep me a place',
      'Your place is kept. We write a few days before with the way there.',
      ['day'],
    ),
  },
  {
    key: 'letters',
    name: 'Newsletter',
    what: 'One line, one consent',
    definition: form(
      'Our letters, by mail',
      'Four a year. No more.',
      [email, q('journal', 'consent', 'Yes, send me your letters. I can leave at any time.', { required: true })],
      'Send them to me',
      'Welcome. The next letter comes with the season.',
      ['letters'],
    ),
  },
  {
    key: 'price',
    name: 'Ask for a price',
    what: 'What somebody needs, and by when',
    definition: form(
      'What would it cost?',
      'Tell us what you need; we write back with a price, and what it depends on.',
      [
        q('for', 'one_of', 'Who is it for?', { required: true, choices: some('A firm', 'A school or council', 'Myself') }),
        q('by', 'date', 'When do you need it?'),
        firstName,
        company,
        email,
        message('What do you need?', { required: true }),
      ],
      'Ask for a price',
      'Thank you. You hear from us within two working days.',
      ['price'],
    ),
  },
  {
    key: 'call',
    name: 'Call me back',
    what: 'A number and a good time',
    definition: form(
      'We call you',
      'On weekdays, usually within an hour.',
      [
        q('time', 'one_of', 'When is a good time?', { required: true, choices: some('In the morning', 'Around noon', 'In the afternoon') }),
        firstName,
        email,
        { ...phone, required: true, help: 'The number we reach you at.' },
      ],
      'Call me',
      'Thank you. We call at the time you chose.',
      ['call'],
    ),
  },
  {
    key: 'waiting',
    name: 'Waiting list',
    what: 'Not yet, but tell me first',
    definition: form(
      'Be told first',
      'It is not there yet. Leave your address and you hear before everybody else.',
      [firstName, email, message('What would you use it for?')],
      'Put me on the list',
      'You are on the list. We write once, when it is there.',
      ['waiting list'],
    ),
  },
  {
    key: 'survey',
    name: 'One question',
    what: 'A survey that is over in a moment',
    definition: form(
      'One question',
      'It takes ten seconds, and we read every answer.',
      [
        q('answer', 'one_of', 'How did you find us?', {
          required: true,
          choices: some('Somebody told me', 'A search', 'A fair', 'Something else'),
        }),
        q('who', 'short_text', 'Who told you?', {
          shownIf: { attribute: 'answer.answer', is: 'equal', value: 'Somebody told me' },
          help: 'We like to say thank you.',
        }),
        email,
      ],
      'Answer',
      'Thank you, that helps.',
      ['survey'],
    ),
  },
]

/** A starter as it fits a house: questions whose property it does not have stand alone. */
export function fitted(definition: PointDefinition, properties: string[]): PointDefinition {
  return {
    ...definition,
    questions: definition.questions.map(question => ({
      ...question,
      property: question.property && properties.includes(question.property) ? question.property : null,
    })),
  }
}
