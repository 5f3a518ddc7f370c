import type { Dice } from './dice'
import type { Person } from './people'

/** The quizzes of the firm, and how its made-up people answer them. */

export const QUIZ = { suits: 'quiz_suits', light: 'quiz_light' }
/** The address of the landing page with the second one. */
export const LIGHT_PAGE = 'how-bright-is-your-winter'
/** Where the first one stands on the site. */
export const ROOM_PATH = '/which-room'

/** Answers with what each speaks for, by outcome. */
const sorting = (
  key: string,
  label: string,
  choices: [value: string, text: string, weights: Record<string, number>][],
  more: object = {},
) => ({
  key,
  kind: 'one_of',
  label,
  required: true,
  quiz: {},
  choices: choices.map(([value, text, weights]) => ({
    value,
    text,
    quiz: { weights: Object.entries(weights).map(([to, n]) => ({ to, n })) },
  })),
  ...more,
})
/** One right answer, by its place. */
const knowing = (key: string, label: string, topic: string, said: string, texts: string[], right: number) => ({
  key,
  kind: 'one_of',
  label,
  required: true,
  quiz: { points: 1, topic, said },
  choices: texts.map((text, i) => ({ value: `${i + 1}`, text, quiz: { right: i === right } })),
})
const contact = (more: object) => ({ ...more, quiz: { contact: true } })

interface Around {
  look: object
  style: string
  appears: object
  hello: string
  /** The key of the form that asks for a visit. */
  visit: string
  picture: object
  sectors: { value: string; text: string }[]
}

export const quizzes = ({ look, style, appears, hello, visit, picture, sectors }: Around) => {
  const firstName = contact({ key: 'first_name', kind: 'short_text', label: 'First name', required: true, property: 'first_name' })
  const email = contact({ key: 'email', kind: 'email', label: 'E-mail address', required: true, property: 'email' })
  const when = (result: string) => ({ attribute: 'quiz.result', is: 'equal', value: result })
  const speaks: Record<string, Record<string, number>> = {
    school: { classroom: 3 },
    council: { classroom: 2, palm: 2 },
    restaurant: { kitchen: 3 },
    market_garden: { nursery: 3 },
    private: { leanto: 2, palm: 1 },
  }
  return [
    {
      key: QUIZ.suits,
      slug: 'which-growing-room',
      name: 'Which growing room suits you?',
      live: true,
      definition: {
        version: 3,
        title: 'Which growing room suits you?',
        intro: 'Five questions, a minute, and a picture of the room you have in mind.',
        houseStyle: style,
        theme: look,
        questions: [
          sorting(
            'sector',
            'Who will grow in it?',
            sectors.map(s => [s.value, s.text, speaks[s.value]!]),
            { property: 'sector' },
          ),
          sorting('crops', 'What do you see in it, in January?', [
            ['leaves', 'Leaves to cut', { kitchen: 2, classroom: 1 }],
            ['seedlings', 'Trays of seedlings', { nursery: 2 }],
            ['trees', 'A lemon tree, and a chair', { palm: 3, leanto: 1 }],
            ['nothing', 'Tools and a bicycle', { leanto: 2 }],
          ]),
          sorting('place', 'Where could it stand?', [
            ['wall', 'Against a wall', { leanto: 2 }],
            ['roof', 'On a roof', { kitchen: 2 }],
            ['yard', 'In a yard or garden', { classroom: 1, palm: 1 }],
            ['field', 'In a field', { nursery: 2 }],
          ]),
          // On a roof the load comes first.
          {
            ...sorting('load', 'Does somebody know what the roof carries?', [
              ['yes', 'Yes, it is in the drawings', { kitchen: 1 }],
              ['no', 'Not yet', {}],
            ]),
            shownIf: { attribute: 'answer.place', is: 'equal', value: 'roof' },
          },
          {
            key: 'size',
            kind: 'number',
            label: 'How large, in square metres?',
            required: true,
            limits: { least: 2, most: 5000 },
            help: 'A guess will do.',
            quiz: {
              bands: [
                { key: 'small', upTo: 20, quiz: { weights: [{ to: 'leanto', n: 2 }] } },
                {
                  key: 'middle',
                  upTo: 120,
                  quiz: {
                    weights: [
                      { to: 'classroom', n: 1 },
                      { to: 'kitchen', n: 1 },
                      { to: 'palm', n: 1 },
                    ],
                  },
                },
                { key: 'large', upTo: null, quiz: { weights: [{ to: 'nursery', n: 2 }] } },
              ],
            },
          },
          firstName,
          email,
          contact({
            key: 'journal',
            kind: 'consent',
            label: 'You may also send me the growing journal, four times a year. I can leave at any time.',
            required: false,
            allows: ['journal'],
          }),
        ],
        button: 'Show me the room',
        thanks: 'Thank you.',
        quiz: {
          kind: 'outcomes',
          contact: 'before',
          reason: 'We send you your room, with what it costs to build and to heat.',
          results: [
            {
              key: 'classroom',
              title: 'The growing classroom',
              text: 'Thirty children at benches of three heights, and doors that a wheelchair passes. Yours would be a Brackwater: wide, low, with a vent along its whole ridge.',
              picture,
              button: 'Choose a time to look at one',
              call: { kind: 'meeting', minutes: 45, days: 21 },
            },
            {
              key: 'kitchen',
              title: 'The kitchen’s own house',
              text: 'Leaves and herbs all winter, cut an hour before they are served. Yours would be a Fernhollow, which stands on four points and so on most roofs.',
              button: 'See what one cost',
              call: { kind: 'address', address: 'https://larkmoss.example/growing-houses' },
            },
            {
              key: 'nursery',
              title: 'The propagation house',
              text: 'Benches on rails, fog instead of spray, and heat that pays for itself. Yours would be a Quernmoor.',
              button: 'See the sums',
              call: { kind: 'address', address: 'https://larkmoss.example/prices' },
            },
            {
              key: 'palm',
              title: 'The winter garden',
              text: 'A lemon tree, a chair, and twelve degrees in January. We draw those one at a time.',
              button: 'Ask us to come and look',
              call: { kind: 'point', point: visit },
            },
            {
              key: 'leanto',
              title: 'The lean-to',
              text: 'Against a warm wall, for tomatoes in summer and tools in winter. It is the smallest we build, and the one that is used most.',
              button: 'Read how it is built',
              call: { kind: 'address', address: 'https://larkmoss.example/journal' },
            },
          ],
        },
        actions: [
          { key: 'tag', kind: 'tag', tags: ['quiz'] },
          {
            key: 'label',
            kind: 'label',
            label: 'warming',
            when: { attribute: 'quiz.result', is: 'one_of', value: ['classroom', 'kitchen', 'nursery'] },
          },
          { key: 'classroom', kind: 'tag', tags: ['growing classroom'], when: when('classroom') },
          {
            key: 'mail',
            kind: 'mail',
            subject: '{{lead.first_name}}, your room: {{quiz.title}}',
            text: `${hello}\n\nyou asked which growing room suits you. It is **{{quiz.title}}**.\n\n{{quiz.text}}\n\nThis is what you said:\n\n{{quiz.answers}}\n\nIf you would like one of us to come and look, answer this mail. It costs nothing.\n\nLarkmoss Glasshouses`,
            days: 0,
          },
        ],
        display: { ...appears, placement: 'text', pages: { all: [{ attribute: 'page.path', is: 'equal', value: ROOM_PATH }] } },
      },
    },
    {
      key: QUIZ.light,
      slug: 'winter-light',
      name: 'How much do you know about winter light?',
      live: true,
      definition: {
        version: 3,
        title: 'How much do you know about winter light?',
        intro: 'Five questions. At the end you see what is right, and why.',
        houseStyle: style,
        theme: look,
        questions: [
          knowing(
            'hours',
            'What does a lettuce need most in January?',
            'plants',
            'It grows slowly at four degrees, and not at all in the dark.',
            ['Hours of light', 'Warmth', 'Water'],
            0,
          ),
          knowing(
            'glass',
            'Which glass lets in most light at noon in December?',
            'glass',
            'A low sun comes in best through a pane that stands across its way.',
            ['A flat roof', 'Steep panes to the south', 'It makes no difference'],
            1,
          ),
          knowing(
            'lamp',
            'What is the cheapest lamp?',
            'glass',
            'It gives back most of what falls on it, and needs no current.',
            ['A white wall to the north', 'A red lamp', 'A lamp with a timer'],
            0,
          ),
          knowing(
            'dust',
            'How much light does a winter’s dirt on the glass take?',
            'glass',
            'We measured it in four houses: a tenth to a fifth.',
            ['Hardly any', 'A tenth to a fifth', 'More than half'],
            1,
          ),
          {
            key: 'plants',
            kind: 'some_of',
            label: 'Which of these grow through a dark winter, a little?',
            required: true,
            quiz: { points: 2, topic: 'plants', said: 'The two are older than our greenhouses.' },
            choices: [
              { value: 'lambs', text: 'Lamb’s lettuce', quiz: { right: true } },
              { value: 'purslane', text: 'Winter purslane', quiz: { right: true } },
              { value: 'tomato', text: 'Tomatoes', quiz: { said: 'They live, and sulk.' } },
              { value: 'basil', text: 'Basil', quiz: {} },
            ],
          },
          contact({ ...firstName, required: false }),
          email,
        ],
        button: 'Show me what is right',
        thanks: 'Thank you.',
        quiz: {
          kind: 'marks',
          contact: 'before',
          reason: 'Where may we send your answers, with what is right?',
          skip: true,
          shuffle: 'choices',
          topics: [
            { key: 'plants', name: 'Plants' },
            { key: 'glass', name: 'Glass' },
          ],
          results: [
            {
              key: 'dark',
              title: 'Still a little dark',
              text: 'Most people begin here. The journal brings four letters a year about just this.',
            },
            {
              key: 'dawn',
              title: 'You see the dawn',
              from: 40,
              text: '{{lead.first_name}}{{^lead.first_name}}You{{/lead.first_name}} with **{{quiz.points}} of {{quiz.possible}}**: you know what matters. What your own house would take in, we can measure.',
            },
            {
              key: 'noon',
              title: 'Bright as noon',
              from: 80,
              text: 'You could write our journal. Come and see the meters in the Brackwater house.',
            },
          ],
        },
        actions: [
          { key: 'tag', kind: 'tag', tags: ['quiz'] },
          {
            key: 'mail',
            kind: 'mail',
            subject: '{{lead.first_name}}{{^lead.first_name}}You{{/lead.first_name}}: {{quiz.points}} of {{quiz.possible}} points',
            text: `${hello}\n\n**{{quiz.title}}**: {{quiz.points}} of {{quiz.possible}} points.\n\n{{quiz.text}}\n\nThis is what you said:\n\n{{quiz.answers}}\n\nLarkmoss Glasshouses`,
            days: 0,
          },
        ],
      },
    },
  ]
}

/** What somebody answers who looks for a room: mostly as it goes with who they are. */
export function suitsOf(p: Person, own: Dice): Record<string, string> {
  const mostly = (value: string, others: string[]) => (own.chance(0.72) ? value : own.pick(others))
  const crops = mostly(
    { school: 'leaves', council: 'trees', restaurant: 'leaves', market_garden: 'seedlings', private: 'trees' }[p.sector]!,
    ['leaves', 'seedlings', 'trees', 'nothing'],
  )
  const place = mostly({ school: 'yard', council: 'yard', restaurant: 'roof', market_garden: 'field', private: 'wall' }[p.sector]!, [
    'wall',
    'roof',
    'yard',
    'field',
  ])
  const [least, most] = { small: [6, 28], medium: [32, 180], large: [210, 600], unsure: [8, 90] }[p.size] as [number, number]
  return {
    sector: p.sector,
    crops,
    place,
    ...(place === 'roof' && { load: own.chance(0.4) ? 'yes' : 'no' }),
    size: String(own.between(least, most)),
    first_name: p.first,
    email: p.email,
    ...(own.chance(0.4) && { journal: 'yes' }),
  }
}
/** What somebody answers who is asked about winter light: growers know more than others. */
export function lightOf(p: Person, own: Dice): Record<string, string | string[]> {
  const knows = { school: 0.5, council: 0.5, restaurant: 0.42, market_garden: 0.86, private: 0.55 }[p.sector]!
  const one = (right: string) => (own.chance(knows) ? right : own.pick(['1', '2', '3'].filter(v => v !== right)))
  const plants = [
    ...(own.chance(knows) ? ['lambs'] : []),
    ...(own.chance(knows) ? ['purslane'] : []),
    ...(own.chance(1 - knows) ? ['basil'] : []),
  ]
  return {
    hours: one('1'),
    glass: one('2'),
    lamp: one('1'),
    dust: one('2'),
    plants: plants.length ? plants : ['tomato'],
    email: p.email,
    ...(own.chance(0.8) && { first_name: p.first }),
  }
}
