import { readFileSync } from 'node:fs'
import type { ArchiveConversation, ArchiveLine } from '#core/archive'
import { createDice, type Dice } from './dice'
import { somebody } from './people'

/** The chat of the firm, and what people said in it. */
export const CHAT = 'chat_grower'

const say = (key: string, text: string, then: string | null, choices: { text: string; to: string | null }[] = []) => ({
  kind: 'say',
  key,
  text,
  choices,
  then,
})
const ask = (key: string, question: string, then: string, more: object = {}) => ({ kind: 'ask', key, question, then, ...more })

/** @param around what it shares with the firm's forms */
export const chat = ({ look, appears }: { look: object; appears: object }) => ({
  key: CHAT,
  slug: 'ask-a-grower',
  name: 'Ask a grower',
  live: true,
  definition: {
    version: 3,
    title: 'Ask a grower',
    intro: 'What a growing house needs, what it costs, and whether it could stand where you are.',
    button: 'Send',
    thanks: 'Thank you.',
    // In the site's own font: the tab stands on each of its pages.
    theme: { ...look, font: 'page', logo: null },
    questions: [
      { key: 'planning', kind: 'short_text', label: 'What are you planning?', required: true, property: 'message' },
      {
        key: 'by',
        kind: 'one_of',
        label: 'By when would you like to grow in it?',
        required: true,
        property: 'timing',
        choices: [
          { value: 'this_season', text: 'This season' },
          { value: 'this_year', text: 'Within a year' },
          { value: 'someday', text: 'Just looking' },
        ],
      },
      { key: 'first_name', kind: 'short_text', label: 'What may we call you?', required: true, property: 'first_name' },
      { key: 'email', kind: 'email', label: 'Where may we write to?', required: true, property: 'email' },
      { key: 'phone', kind: 'phone', label: 'At which number?', help: 'Only to talk about your plan.', required: false, property: 'phone' },
    ],
    actions: [
      { key: 'tag', kind: 'tag', tags: ['chat'] },
      { key: 'soon', kind: 'next_step', text: 'Call: they asked for it in the chat', days: 1 },
    ],
    display: {
      ...appears,
      placement: 'corner',
      side: 'end',
      open: 'Ask a grower',
      invitation: 'Hello {{lead.first_name}}{{^lead.first_name}}there{{/lead.first_name}}. Wondering what could grow where you are?',
      moments: [{ kind: 'seconds', n: 40 }],
      together: 'any',
      small: true,
      except: { any: [{ attribute: 'page.path', is: 'equal', value: '/contact' }] },
    },
    chat: {
      place: 'edge',
      keep: 30,
      address: 'first',
      addressText: 'Should the line break: where may we write to?',
      away: 'Everybody is out among the glass just now.',
      within: 10,
      flow: {
        start: 'hello',
        steps: [
          say('hello', 'Good day. You can ask me anything about growing houses.', 'look', [
            { text: 'I am planning something', to: 'planning' },
            { text: 'I have a question', to: 'look' },
            { text: 'Only looking', to: 'bye' },
          ]),
          ask('planning', 'planning', 'by'),
          ask('by', 'by', 'name'),
          ask('name', 'first_name', 'mail'),
          ask('mail', 'email', 'call', { readBack: true }),
          say('call', 'Thank you, {{lead.first_name}}. Shall we call you?', 'take', [
            { text: 'Yes, call me', to: 'phone' },
            { text: 'A mail is enough', to: 'take' },
          ]),
          ask('phone', 'phone', 'soon'),
          { kind: 'do', key: 'soon', actions: ['soon'], entry: false, then: 'take' },
          { kind: 'do', key: 'take', actions: [], entry: true, then: 'person' },
          { kind: 'look_up', key: 'look', text: 'What would you like to know?', then: 'more', otherwise: 'person' },
          say('more', 'Does that help?', 'look', [
            { text: 'Yes, thank you', to: 'bye' },
            { text: 'I have another question', to: 'look' },
            { text: 'I would rather talk to somebody', to: 'person' },
          ]),
          { kind: 'hand_over', key: 'person', text: 'I fetch one of the growers.', to: 'plan', otherwise: 'later' },
          { kind: 'end', key: 'later', text: 'They write to you as soon as somebody is back.', rating: true },
          { kind: 'end', key: 'bye', text: 'Come back whenever something grows on your mind.', rating: true },
        ],
      },
    },
  },
})

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR
type Said = ArchiveConversation['lines'][number]
const PLANS = [
  'A growing room beside the canteen',
  'A lean-to against the south wall',
  'Something warm for seedlings in February',
  'A house for citrus that does not look like a shed',
  'Two bays for the market stall',
  'A glass roof over the old yard',
]
/** What people ask that no note answers, and that the team answers by hand. */
const ASKED: [string, string][] = [
  ['Can you build on a slope?', 'Up to about ten degrees, with a stepped plinth. Steeper than that we level first.'],
  ['Do you also take an old house down?', 'We do, and the glass is often good enough to be used again.'],
  ['How loud are the vents when they open by themselves?', 'Like a drawer. Nobody has complained yet, not even next to a bedroom.'],
  ['Is there a grant for restaurants?', 'Not that we know of. For schools there is one.'],
  ['What happens when a pane breaks in winter?', 'We come within two days and board it up; the new pane takes a week.'],
  ['Can hens live in the lower half?', 'They can, but the tomatoes will not like it. Ask us for the divided house.'],
]
const THANKS = ['Thank you, that helps.', 'Good to know.', 'Then I measure the wall and come back.', 'Thanks!']
const WORDS: Record<number, string[]> = {
  1: ['Nobody came.'],
  2: ['It took a while.'],
  3: [''],
  4: ['Quick answer.', ''],
  5: ['Somebody who knows what they talk about.', '', 'Very kind.'],
}

type Add = (at: number, line: ArchiveLine) => void
/** What was said in the chat over the time, by dice of its own, so that all else stays as it is; and two who wait now. */
export function conversations(add: Add, start: number, now: number, site: string, team: { growers: string[] }): void {
  const dice = createDice(88_211)
  const taken = new Set<string>()
  const all: { at: number; said: ArchiveConversation }[] = []
  for (let day = start; day < now - DAY; day += DAY) {
    const weekday = new Date(day).getUTCDay()
    if (!dice.chance([0, 6].includes(weekday) ? 0.25 : 0.6)) continue
    const at = Math.floor(day / DAY) * DAY + (8 + dice.next() * 8) * HOUR
    const isPlanned =
      dice.weighed([
        ['planned', 8],
        ['asked', 7],
        ['left', 3],
        ['told', 3],
      ] as const) === 'planned'
    const said = isPlanned ? planned(dice, taken, site, at, team.growers) : other(dice, site, at, team.growers, now)
    all.push({ at, said })
  }
  const last = all.findLast(({ said }) => said.answers && said.member)
  if (last) goesOnByMail(last.said)
  for (const { at, said } of all) add(at, said)
  waiting(add, now, site)
}
const hello: Said = { after: 0, by: 'flow', text: 'Good day. You can ask me anything about growing houses.' }
const page = (dice: Dice, site: string) => `${site}${dice.pick(['/', '/schools', '/prices', '/houses'])}`

/** Somebody who did not become a lead: asked one of us, was answered from a note, or left in the midst. */
function other(dice: Dice, site: string, at: number, growers: string[], now: number): ArchiveConversation {
  const what = dice.weighed([
    ['asked', 7],
    ['left', 3],
    ['told', 3],
  ] as const)
  if (what === 'asked') return asked(dice, site, at, growers, now)
  const began = dice.chance(0.35) ? 'greeting' : 'tab'
  if (what === 'left') {
    const way = ['hello', 'planning', 'by', 'name', 'mail'].slice(
      0,
      dice.weighed([
        [1, 3],
        [2, 4],
        [3, 1],
        [4, 1],
        [5, 5],
      ] as const),
    )
    const lines: Said[] = [
      hello,
      ...(way.length > 1
        ? [
            { after: 6, by: 'visitor' as const, text: 'I am planning something' },
            { after: 6, by: 'flow' as const, text: 'What are you planning?' },
          ]
        : []),
      ...(way.length > 2 ? [{ after: 30, by: 'visitor' as const, text: dice.pick(PLANS) }] : []),
    ]
    return { kind: 'conversation', point: CHAT, began, page: page(dice, site), lines, state: 'ended', way }
  }
  const [question, title] = dice.pick(TRIED.filter(([, note]) => note !== null))
  const lines: Said[] = [
    hello,
    { after: 5, by: 'visitor', text: 'I have a question' },
    { after: 5, by: 'flow', text: 'What would you like to know?' },
    { after: 21, by: 'visitor', text: question },
    { after: 21, by: 'flow', text: NOTES.find(([t]) => t === title)![1] },
    { after: 21, by: 'flow', text: 'Does that help?' },
    { after: 44, by: 'visitor', text: 'Yes, thank you' },
    { after: 44, by: 'flow', text: 'Come back whenever something grows on your mind.' },
  ]
  const rating = dice.chance(0.4)
    ? dice.weighed([
        [5, 4],
        [4, 5],
        [3, 3],
        [2, 1],
      ] as const)
    : undefined
  return {
    kind: 'conversation',
    point: CHAT,
    began,
    page: page(dice, site),
    lines,
    state: 'ended',
    way: ['hello', 'look', 'more', 'bye'],
    ...(rating && { rating }),
  }
}

/** Somebody told the flow what they plan, and became a lead. */
function planned(dice: Dice, taken: Set<string>, site: string, at: number, growers: string[]): ArchiveConversation {
  const p = somebody(dice, taken)
  const email = p.email.replace('@', '.chat@')
  const plan = dice.pick(PLANS)
  const timing = { this_season: 'This season', this_year: 'Within a year', someday: 'Just looking' }[p.timing]!
  const lines: Said[] = [
    hello,
    { after: 6, by: 'visitor', text: 'I am planning something' },
    { after: 6, by: 'flow', text: 'What are you planning?' },
    { after: 31, by: 'visitor', text: plan },
    { after: 31, by: 'flow', text: 'By when would you like to grow in it?' },
    { after: 38, by: 'visitor', text: timing },
    { after: 38, by: 'flow', text: 'What may we call you?' },
    { after: 44, by: 'visitor', text: p.first },
    { after: 44, by: 'flow', text: 'Where may we write to?' },
    { after: 58, by: 'visitor', text: email },
    { after: 58, by: 'flow', text: `Did I get that right? “${email}”` },
    { after: 61, by: 'visitor', text: 'Yes' },
    { after: 61, by: 'flow', text: `Thank you, ${p.first}. Shall we call you?` },
    { after: 67, by: 'visitor', text: 'A mail is enough' },
    { after: 67, by: 'flow', text: 'I fetch one of the growers.' },
  ]
  return finished(
    dice,
    {
      kind: 'conversation',
      point: CHAT,
      began: dice.chance(0.4) ? 'greeting' : 'tab',
      page: page(dice, site),
      lines,
      answers: { planning: plan, by: p.timing, first_name: p.first, email },
      asked: 67,
      state: 'ended',
      way: ['hello', 'planning', 'by', 'name', 'mail', 'call', 'take', 'person'],
    },
    growers,
    ['We have your plan here. May I ask how wide the wall is?', 'Good. I send you two drawings of houses like it this week.'],
    at,
  )
}

/** Somebody asked something. */
function asked(dice: Dice, site: string, at: number, growers: string[], now: number): ArchiveConversation {
  const [question, answer] = dice.pick(ASKED)
  const lines: Said[] = [
    hello,
    { after: 5, by: 'visitor', text: 'I have a question' },
    { after: 5, by: 'flow', text: 'What would you like to know?' },
    { after: 27, by: 'visitor', text: question },
    { after: 27, by: 'flow', text: 'I fetch one of the growers.' },
  ]
  return finished(
    dice,
    {
      kind: 'conversation',
      point: CHAT,
      began: dice.chance(0.3) ? 'greeting' : 'tab',
      page: page(dice, site),
      lines,
      asked: 27,
      state: 'ended',
      way: ['hello', 'look', 'person'],
      ...(at > now - 21 * DAY && { unanswered: question }),
    },
    growers,
    [answer],
    at,
  )
}

/** One of us came, answered, and it ended: with a rating more often than not. */
function finished(dice: Dice, c: ArchiveConversation, growers: string[], answers: string[], at: number): ArchiveConversation {
  const weekend = [0, 6].includes(new Date(at).getUTCDay())
  if (weekend) {
    c.lines.push(
      { after: c.asked!, by: 'house', text: 'Everybody is out among the glass just now.' },
      { after: c.asked!, by: 'flow', text: 'They write to you as soon as somebody is back.' },
    )
    return c
  }
  const member = dice.pick(growers)
  let after = c.asked! + Math.round(dice.around(150, 0.9))
  for (const text of answers) {
    c.lines.push({ after, by: 'member', text, member })
    after += dice.between(20, 90)
    c.lines.push({ after, by: 'visitor', text: dice.pick(THANKS) })
    after += dice.between(10, 60)
  }
  c.member = member
  if (!dice.chance(0.62)) return c
  c.rating = dice.weighed([
    [5, 9],
    [4, 7],
    [3, 3],
    [2, 1],
    [1, 1],
  ] as const)
  c.ratingText = dice.pick(WORDS[c.rating]!)
  if (!c.ratingText) delete c.ratingText
  return c
}

const fileOf = (name: string, as = name) => ({
  name: as,
  content: readFileSync(new URL(`./files/${name}`, import.meta.url)).toString('base64'),
})

/** Files went both ways; then they closed the window, had the rest by mail, and answered it from there, which nobody has read yet. */
function goesOnByMail(c: ArchiveConversation): void {
  const { first_name: first, email } = c.answers as { first_name: string; email: string }
  const began = c.lines.at(-1)!.after
  const member = c.member!
  const more: Said[] = [
    { after: 60, by: 'visitor', text: 'This is what grows there now, in trays on the sill.' },
    { after: 70, by: 'visitor', text: 'our-sill.jpg', files: [fileOf('seedlings.jpg', 'our-sill.jpg')] },
    {
      after: 190,
      by: 'member',
      member,
      text: 'That would fit three times over. Here is our guide with the sums; the lean-to is on page two.',
    },
    { after: 195, by: 'member', member, text: 'price-guide.pdf', files: [fileOf('price-guide.pdf')] },
    { after: 320, by: 'house', text: 'You were away, so this went to your address as well.', mailed: email },
    {
      after: 2600,
      by: 'visitor',
      text: 'Thank you, I have read it on the way home. Would the smaller one stand without a foundation? We rent the yard.',
      mail: {
        subject: 'Re: our answer to you',
        quoted: `> That would fit three times over. Here is our guide with the sums; the lean-to is on page two.\n\n-- \n${first}`,
      },
    },
  ]
  c.lines.push(...more.map(l => ({ ...l, after: began + l.after })))
  c.state = 'talking'
  delete c.rating
  delete c.ratingText
}

/** Two who wait now: one for anybody, one for an answer to what they told the flow. */
function waiting(add: Add, now: number, site: string): void {
  add(now - 4 * MINUTE, {
    kind: 'conversation',
    point: CHAT,
    began: 'tab',
    page: `${site}/prices`,
    asked: 40,
    state: 'waiting',
    way: ['hello', 'look', 'person'],
    unanswered: 'Would forty square metres fit behind a chapel that is listed?',
    lines: [
      hello,
      { after: 5, by: 'visitor', text: 'I have a question' },
      { after: 5, by: 'flow', text: 'What would you like to know?' },
      { after: 36, by: 'visitor', text: 'Would forty square metres fit behind a chapel that is listed?' },
      { after: 36, by: 'flow', text: 'I fetch one of the growers.' },
      { after: 40, by: 'house', text: 'One of us answers here. You may go on writing.' },
    ],
  })
  add(now - 9 * MINUTE, {
    kind: 'conversation',
    point: CHAT,
    began: 'greeting',
    page: `${site}/schools`,
    asked: 80,
    state: 'waiting',
    way: ['hello', 'planning', 'by', 'name', 'mail', 'call', 'take', 'person'],
    answers: {
      planning: 'A growing room for sixty children',
      by: 'this_season',
      first_name: 'Oriel',
      email: 'oriel.chat@hazelcombe-school.example',
    },
    lines: [
      hello,
      { after: 6, by: 'visitor', text: 'I am planning something' },
      { after: 6, by: 'flow', text: 'What are you planning?' },
      { after: 33, by: 'visitor', text: 'A growing room for sixty children' },
      { after: 33, by: 'flow', text: 'By when would you like to grow in it?' },
      { after: 41, by: 'visitor', text: 'This season' },
      { after: 41, by: 'flow', text: 'What may we call you?' },
      { after: 47, by: 'visitor', text: 'Oriel' },
      { after: 47, by: 'flow', text: 'Where may we write to?' },
      { after: 66, by: 'visitor', text: 'oriel.chat@hazelcombe-school.example' },
      { after: 66, by: 'flow', text: 'Thank you, Oriel. Shall we call you?' },
      { after: 74, by: 'visitor', text: 'A mail is enough' },
      { after: 74, by: 'flow', text: 'I fetch one of the growers.' },
      { after: 80, by: 'house', text: 'One of us answers here. You may go on writing.' },
      { after: 190, by: 'visitor', text: 'The wall is nine metres long, if that helps.' },
    ],
  })
}

/** What people ask again and again, and what the firm says to it. */
const NOTES: [title: string, body: string][] = [
  [
    'What a house costs',
    'A small lean-to begins at about 9,000, a room for a class at about 48,000, and a house for a market garden at 160,000, each with foundation and glass. The price guide has twenty-two of them with their sums.',
  ],
  [
    'What heating costs',
    'Frost free, a room of 60 m² took about 1,900 last winter; at 12 °C it took 4,600. Twin glass takes a third off. Page two of the price guide has every house.',
  ],
  [
    'How long building takes',
    'From your yes to the key it is usually fourteen weeks: six for drawings and permits, five in our hall, three on your ground.',
  ],
  ['Whether you need a permit', 'Under 30 m² mostly not, on a roof always. We ask your council for you and bring the papers.'],
  ['Building on a roof', 'It works where the roof carries 250 kg a square metre. We send an engineer, and lift the house up in two days.'],
  [
    'Grants for schools',
    'Six of the nine schools we built for paid with a grant for outdoor learning. Ask us which, and when its next round closes.',
  ],
  ['Which glass we use', 'Toughened 4 mm as a rule, twin walled where you heat. Plastic we do not use: it is dull after eight years.'],
  ['Watering', 'Rain from the roof into a tank of 2,000 litres, and a drip line with a timer. In a dry August the tank lasts three weeks.'],
  [
    'Shading and vents',
    'Vents in the ridge open by themselves at 24 °C, without electricity. A cloth along the south side keeps July bearable.',
  ],
  ['Visiting a house', 'The house at Brackwater is open every Thursday at three, with tea. Bring whoever has to agree.'],
  [
    'Care and repairs',
    'Twice a year we wash, oil and check everything. Whoever has a care plan gets a broken pane replaced within a week.',
  ],
  [
    'What grows when',
    'Leaves all winter at 5 °C, tomatoes from April at 12 °C, citrus all year at 8 °C. In the dark months light is the limit, not warmth.',
  ],
]
/** Questions to try the notes on, as people put them; with the right note, or with none. */
const TRIED: [text: string, note: string | null][] = [
  ['how much is a greenhouse for a school class', 'What a house costs'],
  ['Price for a lean-to?', 'What a house costs'],
  ['what would one for a market garden cost me', 'What a house costs'],
  ['is it expensive to heat in winter', 'What heating costs'],
  ['Heating bill for 12 degrees?', 'What heating costs'],
  ['how long does it take until it stands', 'How long building takes'],
  ['when would it be ready if we order now, weeks or months', 'How long building takes'],
  ['do I need planning permission or a permit', 'Whether you need a permit'],
  ['does the council have to agree', 'Whether you need a permit'],
  ['can you put one on a flat roof', 'Building on a roof'],
  ['how many kg must the roof carry', 'Building on a roof'],
  ['are there grants for schools', 'Grants for schools'],
  ['Who pays? is there a grant', 'Grants for schools'],
  ['is it plastic or glass', 'Which glass we use'],
  ['do you use twin walled glass', 'Which glass we use'],
  ['how is it watered, is there a tank', 'Watering'],
  ['does the drip line have a timer', 'Watering'],
  ['will it get too hot in July', 'Shading and vents'],
  ['do the vents need electricity', 'Shading and vents'],
  ['can we visit a house of yours', 'Visiting a house'],
  ['when is Brackwater open', 'Visiting a house'],
  ['who replaces a broken pane', 'Care and repairs'],
  ['what does a care plan contain', 'Care and repairs'],
  ['can I grow tomatoes in march', 'What grows when'],
  ['which temperature for citrus trees', 'What grows when'],
  ['Can you build on a slope?', null],
  ['Do you also take an old house down?', null],
  ['can hens live in it', null],
  ['do you deliver to Norway', null],
  ['is there a discount for pensioners', null],
  ['how loud is it when it rains', null],
  ['may I pay in instalments', null],
  ['do you sell seeds', null],
  ['does it survive hail', null],
  ['who owns Larkmoss', null],
  ['can you send me a colleague who speaks French', null],
  ['do you take an apprentice next year', null],
]
/** The notes of the firm, and the questions they are tried on. */
export const notes = (at: string, by: string): ArchiveLine[] => [
  ...NOTES.map(([title, body]) => ({ kind: 'note' as const, at, title, body, by })),
  ...TRIED.map(([text, note]) => ({ kind: 'note_question' as const, at, text, note })),
]
