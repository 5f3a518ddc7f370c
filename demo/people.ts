import type { Dice } from './dice'

/** Made-up people with made-up firms. `promise` is how likely somebody like this buys, all else equal. */
export interface Person {
  first: string
  last: string
  email: string
  company: string | null
  sector: string
  size: string
  timing: string
  promise: number
  message: string
}

const FIRST = [
  'Ada',
  'Bram',
  'Celestine',
  'Dag',
  'Edda',
  'Finlo',
  'Gwenda',
  'Hollis',
  'Ines',
  'Jory',
  'Keziah',
  'Lowen',
  'Maren',
  'Niall',
  'Odile',
  'Perrin',
  'Quill',
  'Rhoswen',
  'Sorrel',
  'Tobin',
  'Una',
  'Viggo',
  'Wren',
  'Xanthe',
  'Ysolde',
  'Zeno',
  'Aurelie',
  'Bastien',
  'Corin',
  'Delphine',
  'Emrys',
  'Fenella',
  'Gaspard',
  'Henrike',
  'Isolde',
  'Jarek',
  'Katell',
  'Linus',
  'Mabyn',
  'Nadir',
  'Oona',
  'Piran',
  'Romilly',
  'Saskia',
  'Tegan',
  'Ulla',
  'Vesper',
  'Willem',
  'Yannic',
  'Zelie',
]
const LAST = [
  'Ashgrove',
  'Bellweather',
  'Cobbledick',
  'Dunmarrow',
  'Elderfield',
  'Fenwright',
  'Garrowby',
  'Hawkesmere',
  'Inglethorn',
  'Jessamy',
  'Kettlewick',
  'Larkwood',
  'Mossop',
  'Nettleship',
  'Oakhanger',
  'Pennyfold',
  'Quarrington',
  'Ravensby',
  'Silverlock',
  'Thistlewood',
  'Underhay',
  'Vellacott',
  'Whinfell',
  'Yarrowdale',
  'Brackenridge',
  'Coldharbour',
  'Dovecote',
  'Eastlake-Moor',
  'Foxcombe',
  'Greywether',
  'Hollowell',
  'Marchbank',
  'Orchardson',
  'Pomfret-Vale',
  'Rushmere',
  'Stonebarrow',
  'Tanglewood',
  'Wintergill',
]
const PLACES = [
  'Alderbeck',
  'Brackwater',
  'Coldmere',
  'Dunlow',
  'Elmstead Vale',
  'Fernhollow',
  'Gorsefield',
  'Hartsmouth',
  'Inchbrook',
  'Kelderside',
  'Lowmarsh',
  'Millrace',
  'Netherby Cross',
  'Otterford',
  'Penhallow',
  'Quernmoor',
  'Ripplesea',
  'Saltmarsh',
  'Thornwick',
  'Upper Wend',
  'Westerholt',
  'Yewbridge',
]

const FIRMS: Record<string, string[]> = {
  school: ['{} Primary School', '{} Academy', 'St Osyth’s School, {}', '{} Forest School', '{} Sixth Form College'],
  council: ['{} Town Council', '{} Parish Council', '{} Public Gardens', '{} Borough Parks'],
  restaurant: ['The Copper Ladle, {}', 'Salt & Sorrel, {}', '{} House Hotel', 'The Glass Pantry, {}', 'Three Figs, {}'],
  market_garden: ['{} Growers', '{} Market Garden', 'Hedgerow & Daughters, {}', '{} Salad Company'],
}
const MESSAGES: Record<string, string[]> = {
  school: [
    'We want a room where Year 5 can grow what the kitchen cooks. There is a south wall behind the hall.',
    'Our old greenhouse is not safe any more. The governors meet next month and I need a figure.',
    'A grant of about 40,000 has to be spent before summer. Is that realistic for sixty square metres?',
    'Could wheelchair users get to all of the benches?',
  ],
  council: [
    'The palm house in the park needs new glazing, and we wonder whether rebuilding is cheaper.',
    'We are planning a community growing space beside the library.',
    'Tender opens in spring. We would like to know what is possible on a slope.',
  ],
  restaurant: [
    'Herbs and leaves all winter, on a flat roof. Can the roof carry it?',
    'We serve ninety covers and buy every leaf. I would like to grow a third of it.',
    'A small one in the courtyard, more for show than for yield, but it should look right.',
  ],
  market_garden: [
    'Two tunnels came down in the storm. I will not buy plastic again.',
    'Looking at 600 m² heated with waste heat from the digester next door.',
    'What would a propagation house for twenty thousand plugs cost to run?',
  ],
  private: ['A lean-to against the kitchen.', 'My father’s vine needs a new house.', 'Something small for tomatoes, but not ugly.'],
}
const PROMISE: Record<string, number> = { school: 0.3, council: 0.28, market_garden: 0.2, restaurant: 0.16, private: 0.05 }
const SIZE_PROMISE: Record<string, number> = { large: 1.6, medium: 1.25, small: 0.7, unsure: 0.6 }
const TIMING_PROMISE: Record<string, number> = { this_season: 1.4, this_year: 1, someday: 0.4 }

/** What a room of a size costs, about, in thousands; who has none in mind says so by leaving it out. */
const COSTS: Record<string, [number, number]> = { small: [9, 34], medium: [28, 90], large: [80, 340], unsure: [12, 60] }
const CROPS: Record<string, string[]> = {
  school: ['leaves', 'fruit'],
  council: ['flowers', 'trees'],
  restaurant: ['leaves'],
  market_garden: ['seedlings', 'leaves'],
  private: ['fruit'],
}

/** What somebody says who has a room planned: with a number to ring, and often what it may cost. By dice of their own, so that all else stays as it is. */
export function planOf(p: Person, own: Dice): Record<string, unknown> {
  const [least, most] = COSTS[p.size]!
  const roof = p.sector === 'restaurant' && own.chance(0.6)
  // Numbers that are kept free for stories (France: 06 39 98; Britain: 07700 900).
  const [country, phone] = own.chance(0.82)
    ? ['FR', `06 39 98 ${own.between(10, 99)} ${own.between(10, 99)}`]
    : ['GB', `+44 7700 900${own.between(100, 999)}`]
  return {
    sector: p.sector,
    crops: CROPS[p.sector],
    roof: roof ? 'yes' : 'no',
    first_name: p.first,
    last_name: p.last,
    email: p.email,
    phone,
    country,
    ...(own.chance(0.7) && { budget: String(own.between(least, most) * 1000) }),
  }
}

const word = (text: string) =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '')

/** A person nobody has met yet. `taken` holds the addresses that are in use, and is added to. */
export function somebody(dice: Dice, taken: Set<string>): Person {
  const sector = dice.weighed([
    ['school', 24],
    ['council', 10],
    ['restaurant', 18],
    ['market_garden', 16],
    ['private', 32],
  ] as const)
  const size =
    sector === 'private'
      ? dice.weighed([
          ['small', 7],
          ['unsure', 3],
        ] as const)
      : dice.weighed([
          ['small', 2],
          ['medium', 5],
          ['large', sector === 'restaurant' ? 1 : 3],
          ['unsure', 2],
        ] as const)
  const timing = dice.weighed([
    ['this_season', 3],
    ['this_year', 5],
    ['someday', sector === 'private' ? 6 : 2],
  ] as const)
  const [first, last, place] = [dice.pick(FIRST), dice.pick(LAST), dice.pick(PLACES)]
  const company = FIRMS[sector] ? dice.pick(FIRMS[sector]).replace('{}', place) : null
  const domain = company ? `${word(company).slice(0, 24)}.example` : `${dice.pick(['postbox', 'quillmail', 'homeletter'])}.example`
  let email = `${word(first)}.${word(last)}@${domain}`
  for (let n = 2; taken.has(email); n++) email = `${word(first)}.${word(last)}${n}@${domain}`
  taken.add(email)
  return {
    first,
    last,
    email,
    company,
    sector,
    size,
    timing,
    message: dice.pick(MESSAGES[sector]!),
    promise: Math.min(0.7, PROMISE[sector]! * SIZE_PROMISE[size]! * TIMING_PROMISE[timing]!),
  }
}
