import { readFileSync } from 'node:fs'
import type { ArchiveHours, ArchiveLine } from '#core/archive'
import type { Ask } from '#core/follow-up/state'
import type { Stage } from '#core/vocabulary'
import { sameHours } from '#core/working-time'
import { chat, notes } from './chat'
import { LIGHT_PAGE, QUIZ, quizzes } from './quizzes'
import { VISIT_LANGUAGES } from './visit-languages'

/** Larkmoss Glasshouses, which does not exist: who works there, their words, forms and rules. */

export const TEAM = {
  orla: 'orla@larkmoss.example',
  tamsin: 'tamsin@larkmoss.example',
  jonah: 'jonah@larkmoss.example',
  mireille: 'mireille@larkmoss.example',
  desmond: 'desmond@larkmoss.example',
  ansel: 'ansel@larkmoss.example',
}

export const MEMBERS = [
  { email: TEAM.mireille, name: 'Mireille Vauclair', role: 'sales' as const, password: 'vine-and-lattice' },
  { email: TEAM.jonah, name: 'Jonah Birkett', role: 'sales' as const, password: 'cold-frame-morning' },
  { email: TEAM.desmond, name: 'Desmond Oyelaran-Pike', role: 'sales' as const, password: 'six-panes-deep' },
  { email: TEAM.tamsin, name: 'Tamsin Rook', role: 'marketer' as const, password: 'early-seedlings' },
  { email: TEAM.orla, name: 'Orla Penhaligon', role: 'admin' as const, password: 'ridge-and-furrow' },
  { email: TEAM.ansel, name: 'Ansel Thwaite', role: 'manager' as const, password: 'plumb-line-and-chalk' },
]

/** Why leads are lost or put off. */
export const LOST = ['Too dear', 'Went with somebody else', 'No room for it', 'Not this year', 'Never answered']
export const PARKED = [
  'After the summer break',
  'When the new budget stands',
  'Only gathering ideas for now',
  'Once the building permit is there',
]

export const SECTORS = [
  { value: 'school', text: 'A school or college' },
  { value: 'council', text: 'A council or public garden' },
  { value: 'restaurant', text: 'A restaurant or hotel' },
  { value: 'market_garden', text: 'A market garden' },
  { value: 'private', text: 'My own garden' },
]
export const SIZES = [
  { value: 'small', text: 'Under 30 m²' },
  { value: 'medium', text: '30 to 200 m²' },
  { value: 'large', text: 'Over 200 m²' },
  { value: 'unsure', text: 'I do not know yet' },
]
export const CROPS = [
  { value: 'leaves', text: 'Leaves and herbs' },
  { value: 'fruit', text: 'Tomatoes, peppers, cucumbers' },
  { value: 'flowers', text: 'Flowers' },
  { value: 'seedlings', text: 'Seedlings' },
  { value: 'trees', text: 'Citrus and other trees' },
]
export const TIMINGS = [
  { value: 'this_season', text: 'This season' },
  { value: 'this_year', text: 'Within a year' },
  { value: 'someday', text: 'Just looking' },
]

const email = { key: 'email', kind: 'email', label: 'E-mail address', required: true, property: 'email' }
/** Whom we know by no name is greeted all the same. */
const HELLO = 'Hello {{lead.first_name}}{{^lead.first_name}}there{{/lead.first_name}},'
const firstName = { key: 'first_name', kind: 'short_text', label: 'First name', required: true, property: 'first_name' }
const lastName = { key: 'last_name', kind: 'short_text', label: 'Last name', required: true, property: 'last_name' }
const company = { key: 'company', kind: 'short_text', label: 'School, firm or council', required: false, property: 'company' }
const sector = { key: 'sector', kind: 'one_of', label: 'Where would it stand?', required: true, property: 'sector', choices: SECTORS }

/** The address of the landing page of the demo. */
export const LANDING = 'what-a-growing-house-costs'

export const FORMS = {
  visit: 'form_visit',
  guide: 'form_guide',
  care: 'form_care',
  journal: 'form_journal',
  day: 'form_openday',
  plan: 'form_plan',
  call: 'form_call',
  sums: 'form_sums',
  tour: 'form_tour',
}

/** The firm's pictures and downloads, drawn for it; see demo/files. */
const file = (n: number, name: string) => ({ id: `01930000-0000-7000-8000-00000000000${n}`, name })
const FILES = {
  evening: file(1, 'evening-house.jpg'),
  seedlings: file(2, 'seedlings.jpg'),
  logo: file(3, 'larkmoss.png'),
  guide: file(4, 'price-guide.pdf'),
}
const picture = (of: { id: string; name: string }, alt: string, width = 1600, height = 1000) => ({ file: of, width, height, alt })

/** How Larkmoss looks wherever it stands by itself. */
const STYLE = '01930000-0000-7000-8000-000000000010'
const LOOK = {
  sheet: '#fbf7ee',
  ink: '#1c2b2a',
  accent: '#14594f',
  font: 'upright',
  corners: 'soft',
  fields: 'boxed',
  button: 'full',
  width: 'medium',
  align: 'start',
  backdrop: { kind: 'plain' },
  logo: picture(FILES.logo, 'Larkmoss Glasshouses', 520, 120),
}

/** Where and when forms show by themselves, but for what each says of its own. */
const APPEARS = {
  on: true,
  placement: 'corner',
  side: 'end',
  invitation: '',
  open: 'Tell me more',
  pages: null,
  except: null,
  moments: [],
  together: 'any',
  audience: null,
  period: { from: null, until: null, days: [], hours: null },
  rest: { closed: 14, answered: null, perVisit: 1 },
  small: false,
}

const POINTS = [
  {
    key: FORMS.visit,
    slug: 'ask-for-a-visit',
    name: 'Ask for a site visit',
    live: true,
    definition: {
      version: 3,
      title: 'Ask us to come and look',
      intro: 'We measure the light, the slope and the wind, and tell you what could grow there. It costs nothing.',
      questions: [
        sector,
        { key: 'size', kind: 'one_of', label: 'How large, roughly?', required: true, property: 'size', choices: SIZES },
        {
          key: 'timing',
          kind: 'one_of',
          label: 'When would you like to grow in it?',
          required: false,
          property: 'timing',
          choices: TIMINGS,
        },
        firstName,
        lastName,
        { ...company, help: 'Leave it empty if it is for yourself.' },
        email,
        {
          key: 'message',
          kind: 'long_text',
          label: 'What do you have in mind?',
          required: false,
          property: 'message',
          help: 'A few words are enough.',
        },
      ],
      translations: VISIT_LANGUAGES,
      button: 'Ask for a visit',
      thanks: 'Thank you. One of us will call within a working day to find a date.',
      actions: [
        { key: 'label', kind: 'label', label: 'warming' },
        { key: 'tag', kind: 'tag', tags: ['visit'] },
      ],
    },
  },
  {
    key: FORMS.guide,
    slug: 'price-guide',
    name: 'Price guide',
    live: true,
    definition: {
      version: 3,
      title: 'The price guide',
      intro: 'Every house we build, with what it cost to build and to heat last year.',
      variants: [
        {
          key: 'b',
          title: 'What would yours cost?',
          intro: 'Twenty-two houses of ours, with the sums: what each cost to build and to heat last year.',
          button: 'Show me the sums',
          invitation: '',
          open: 'Tell me more',
        },
      ],
      questions: [sector, firstName, email],
      button: 'Send me the guide',
      thanks: 'It is on its way. The figures on page two surprise most people.',
      actions: [
        { key: 'tag', kind: 'tag', tags: ['guide'] },
        {
          kind: 'mail',
          key: 'guide',
          subject: '{{lead.first_name}}, here is the price guide',
          text: `${HELLO}\n\nhere it is, **two pages** about twenty-two houses:\n\n[Open the price guide]({{link}})\n\n- page one: what each cost to build\n- page two: what each cost to heat last year\n\nIf one of them comes near yours, ask us for a visit. It costs nothing.\n\nLarkmoss Glasshouses`,
          days: 0,
          goal: { kind: 'file', file: FILES.guide },
        },
        {
          kind: 'mail',
          key: 'again',
          subject: '{{lead.first_name}}, page two is the one',
          text: `${HELLO}\n\nfour days ago we sent you what our houses cost. Page two says what they cost *to heat*, which is what most people had not counted:\n\n[Read page two]({{link}})\n\nLarkmoss Glasshouses`,
          days: 4,
          goal: { kind: 'file', file: FILES.guide },
          unlessClicked: true,
        },
        {
          kind: 'mail',
          key: 'schools',
          subject: '{{lead.first_name}}, how schools pay for theirs',
          text: `${HELLO}\n\nof the nine schools that we built for, six paid with a grant for outdoor learning. Answer this mail, and we tell you which, and when its next round closes.\n\nLarkmoss Glasshouses`,
          days: 7,
          goal: null,
          when: { all: [{ attribute: 'answer.sector', is: 'equal', value: 'school' }] },
        },
      ],
    },
  },
  {
    key: FORMS.care,
    slug: 'care',
    name: 'Care for a house',
    live: true,
    definition: {
      version: 3,
      title: 'Let us look after it',
      intro: 'Glass, vents, heating and shading, twice a year or when something breaks.',
      questions: [
        firstName,
        lastName,
        company,
        email,
        { key: 'message', kind: 'long_text', label: 'What does it need?', required: true, property: 'message' },
      ],
      theme: { ...LOOK, logo: null, header: picture(FILES.evening, 'A growing house, lit in the evening') },
      button: 'Ask about care',
      thanks: 'Thank you. We will write with a date and a price.',
      actions: [
        { key: 'tag', kind: 'tag', tags: ['care'] },
        { key: 'property', kind: 'property', property: 'has_house', value: 'yes' },
      ],
    },
  },
  {
    key: FORMS.journal,
    slug: 'journal',
    name: 'Journal by mail',
    live: true,
    definition: {
      version: 3,
      title: 'The growing journal, by mail',
      intro: 'Four letters a year. No more.',
      questions: [{ ...firstName, required: false }, email],
      button: 'Send me the journal',
      thanks: 'Nearly there: we have sent you a mail with a link. Once you have used it, the next mail comes with the season.',
      confirm: {
        subject: '{{lead.first_name}}{{^lead.first_name}}This{{/lead.first_name}} is you? Then the journal is yours',
        text: `${HELLO}\n\nsomebody, we hope you, asked for the growing journal at this address. Say that it is yours:\n\n{{link}}\n\nFour letters a year, about glass, light and what grows in winter.\n\nLarkmoss Glasshouses`,
        done: 'Welcome. The next letter comes with the season.',
        then: { kind: 'message' },
      },
      returns: { correct: false, again: false },
      actions: [{ key: 'tag', kind: 'tag', tags: ['journal'] }],
      display: { ...APPEARS, placement: 'text', pages: { all: [{ attribute: 'page.path', is: 'starts_with', value: '/journal/' }] } },
    },
  },
  {
    key: FORMS.day,
    slug: 'open-day',
    name: 'Open day at Brackwater',
    live: false,
    definition: {
      version: 3,
      title: 'Come and see the Brackwater house',
      intro: 'A Saturday in spring, ten to four.',
      questions: [firstName, email],
      button: 'Keep me a place',
      thanks: 'Your place is kept.',
      actions: [{ key: 'tag', kind: 'tag', tags: ['open day'] }],
    },
  },
  {
    key: FORMS.call,
    slug: 'call-me',
    name: 'Call me back',
    live: true,
    definition: {
      version: 3,
      title: 'One of us calls you',
      intro: 'Weekdays from eight to six. It takes five minutes.',
      questions: [
        firstName,
        {
          key: 'phone',
          kind: 'phone',
          label: 'Phone number',
          required: true,
          property: 'phone',
          help: 'Only for this call; we give it to nobody.',
        },
        { ...email, required: false },
      ],
      // Who leaves a number is known by it.
      people: { known: 'fill', unknown: 'create', same: ['phone'] },
      button: 'Call me',
      thanks: 'Thank you. The telephone rings within a working day.',
      actions: [
        { key: 'label', kind: 'label', label: 'warming' },
        { key: 'tag', kind: 'tag', tags: ['call'] },
      ],
      display: {
        ...APPEARS,
        placement: 'corner',
        invitation: 'Rather talk it through? One of us calls you.',
        open: 'Call me back',
        pages: {
          any: [
            { attribute: 'page.path', is: 'starts_with', value: '/growing-houses' },
            { attribute: 'page.path', is: 'starts_with', value: '/prices' },
          ],
        },
        moments: [
          { kind: 'seconds', n: 25 },
          { kind: 'scrolled', n: 70 },
        ],
      },
    },
  },
  {
    key: FORMS.sums,
    slug: 'take-the-sums',
    name: 'Take the sums along',
    live: true,
    definition: {
      version: 3,
      title: 'Take the sums with you',
      intro: 'All twenty-two houses on two pages, to show to whoever decides with you.',
      questions: [firstName, email],
      button: 'Send them to me',
      thanks: 'They are on their way.',
      actions: [
        { key: 'tag', kind: 'tag', tags: ['guide'] },
        {
          kind: 'mail',
          key: 'sums',
          subject: '{{lead.first_name}}, here are the sums',
          text: `${HELLO}\n\nhere they are, two pages:\n\n[Open the sums]({{link}})\n\nLarkmoss Glasshouses`,
          days: 0,
          goal: { kind: 'file', file: FILES.guide },
        },
      ],
      display: {
        ...APPEARS,
        placement: 'over',
        pages: { all: [{ attribute: 'page.path', is: 'equal', value: '/prices' }] },
        audience: { all: [{ attribute: 'visitor.known', is: 'equal', value: 'no' }] },
        moments: [{ kind: 'leaving' }],
      },
    },
  },
  {
    key: FORMS.tour,
    slug: 'winter-tour',
    name: 'Winter tour',
    live: true,
    definition: {
      version: 3,
      title: 'Walk through a warm house in January',
      intro: 'An hour in the Brackwater house, with tea. Every Thursday at three.',
      questions: [
        firstName,
        email,
        { key: 'people', kind: 'number', label: 'How many of you?', required: true, property: null, limits: { least: 1, most: 12 } },
      ],
      guards: {
        origins: [],
        challenge: 'attack',
        refusal: '',
        hold: true,
        when: { all: [{ attribute: 'answer.people', is: 'at_least', value: '9' }] },
        approvers: [],
      },
      button: 'We are coming',
      thanks: 'Good. You get a mail with the way there.',
      actions: [{ key: 'tag', kind: 'tag', tags: ['tour'] }],
      display: {
        ...APPEARS,
        placement: 'edge',
        invitation: 'Thursdays at three: an hour in a warm house, with tea.',
        open: 'Come along',
        except: { any: [{ attribute: 'page.path', is: 'equal', value: '/contact' }] },
        moments: [{ kind: 'pages', n: 3 }],
      },
    },
  },
  {
    key: FORMS.plan,
    slug: 'plan-a-room',
    name: 'Plan a growing room',
    live: true,
    definition: {
      version: 3,
      title: 'Plan your growing room',
      intro: 'Three short parts. You get a first drawing and a price you can show to others.',
      questions: [
        { ...sector, label: 'Who will grow in it?' },
        {
          key: 'crops',
          kind: 'some_of',
          label: 'What will grow there?',
          required: true,
          property: 'crops',
          choices: CROPS.map(c => ({ ...c, ...(c.value === 'leaves' && { tag: 'winter leaves' }) })),
        },
        { key: 'roof', kind: 'yes_no', label: 'Will it stand on a roof?', required: true, property: 'roof' },
        {
          key: 'load',
          kind: 'number',
          label: 'What does the roof carry, in kg per square metre?',
          required: false,
          property: null,
          shownIf: { attribute: 'answer.roof', is: 'equal', value: 'yes' },
          help: 'Leave it empty if nobody has worked it out yet.',
          limits: { least: 0, most: 5000 },
        },
        {
          key: 'children',
          kind: 'number',
          label: 'How many children will be in it at once?',
          required: false,
          property: 'children',
          shownIf: { attribute: 'answer.sector', is: 'equal', value: 'school' },
          limits: { least: 1, most: 200 },
        },
        { key: 'build_by', kind: 'date', label: 'When should it be ready?', required: false, property: 'build_by', newPage: true },
        { key: 'country', kind: 'country', label: 'In which country will it stand?', required: false, property: 'country' },
        {
          key: 'drawing',
          kind: 'file',
          label: 'Do you have a plan or a photo of the place?',
          required: false,
          property: null,
          help: 'A snapshot helps as much as a drawing.',
          files: { accepts: ['picture', 'document'], megabytes: 10 },
          limits: { least: null, most: 3 },
        },
        {
          key: 'budget',
          kind: 'money',
          label: 'What may it cost, roughly?',
          required: false,
          property: 'budget',
          help: 'So that we draw something you can build.',
        },
        { ...firstName, newPage: true },
        lastName,
        email,
        {
          key: 'phone',
          kind: 'phone',
          label: 'Phone number',
          required: false,
          property: 'phone',
          help: 'Only to ask about the drawing; nobody sells you anything.',
        },
        {
          key: 'journal',
          kind: 'consent',
          label: 'You may also send me the growing journal, four times a year. I can leave at any time.',
          required: false,
          allows: ['journal'],
        },
        {
          key: 'campaign',
          kind: 'short_text',
          label: 'Campaign',
          required: false,
          property: 'campaign',
          hidden: { from: 'page', value: '', parameter: 'utm_campaign' },
        },
      ],
      display: { ...APPEARS, placement: 'button' },
      button: 'Ask for a drawing',
      houseStyle: STYLE,
      theme: LOOK,
      next: { kind: 'meeting', minutes: 30, days: 14 },
      returns: { correct: true, again: false },
      thanks: 'Thank you. The drawing comes by mail within three working days.',
      actions: [
        { key: 'label', kind: 'label', label: 'warming' },
        { key: 'tag', kind: 'tag', tags: ['drawing'] },
        { key: 'next_step', kind: 'next_step', text: 'Send the first drawing', days: 3 },
        {
          kind: 'mail',
          key: 'thanks',
          subject: '{{lead.first_name}}, your drawing is being made',
          text: `${HELLO}\n\nthank you for telling us about your growing room. One of us has your answers on the table now, and you get a first drawing with a price within three working days.\n\nIf something changes, answer this mail.\n\nLarkmoss Glasshouses`,
          days: 0,
        },
        {
          kind: 'mail',
          key: 'later',
          subject: '{{lead.first_name}}, did the drawing help?',
          text: `${HELLO}\n\nsome days ago we sent you a drawing. Is the size right? Would you like to stand in a house like it? There is one near you that you may visit.\n\nLarkmoss Glasshouses`,
          days: 6,
        },
      ],
    },
  },
] as const

const QUIZZES = quizzes({
  look: LOOK,
  style: STYLE,
  appears: APPEARS,
  hello: HELLO,
  visit: FORMS.visit,
  sectors: SECTORS,
  picture: picture(FILES.seedlings, 'Rows of seedlings in clay pots under glass'),
})

/** Landing pages: one that is live and sends people to the price guide, one with a quiz, one still being made. */
const PAGES = [
  {
    key: 'page_guide',
    slug: LANDING,
    name: 'Price guide, autumn',
    live: true,
    definition: {
      version: 2,
      title: 'What a growing house costs',
      description: 'Every house that Larkmoss builds: what it costs to build, to heat and to look after.',
      layout: 'beside',
      theme: LOOK,
      houseStyle: STYLE,
      share: picture(FILES.evening, 'A glasshouse lit from inside, at dusk'),
      blocks: [
        {
          key: 'heading_1',
          kind: 'heading',
          text: 'What a growing house costs, in euros',
          under: 'To build, to heat and to look after. Two pages, and no call unless you ask for one.',
        },
        {
          key: 'picture_1',
          kind: 'picture',
          picture: picture(FILES.evening, 'A glasshouse lit from inside, at dusk'),
          caption: 'The school house at Brackwater, on a November evening.',
          wide: false,
        },
        {
          key: 'text_1',
          kind: 'text',
          text: 'Most prices you find are for a kit, without ground, glass or heat. Ours are for a house that stands and grows:\n\n- **to build**, with foundation and glazing\n- **to heat** for a year, frost free and at 12 °C\n- **to look after**, so that it stands in twenty years',
        },
        { key: 'point_1', kind: 'point', point: FORMS.guide },
        {
          key: 'benefits_1',
          kind: 'benefits',
          title: 'Why people read it before they ask anybody',
          items: [
            { key: 'i1', title: 'It is what we built', text: 'Four houses, finished, with the bills beside them.' },
            { key: 'i2', title: 'It counts the winters', text: 'Heat is what a house costs in the end; we measured it.' },
            { key: 'i3', title: 'It fits a decision', text: 'Two pages that a governor or a partner reads in a break.' },
          ],
        },
        {
          key: 'quote_1',
          kind: 'quote',
          text: 'We took the second page into the governors’ meeting, and that was that.',
          who: 'Head of a primary school, Brackwater',
        },
        {
          key: 'answers_1',
          kind: 'answers',
          title: 'What people ask us',
          items: [
            { key: 'i1', question: 'Do you call me afterwards?', answer: 'Only if you ask for a visit. The guide comes by itself.' },
            { key: 'i2', question: 'Are the prices still right?', answer: 'They are from this spring, and we change them twice a year.' },
            {
              key: 'i3',
              question: 'We are a restaurant, not a school.',
              answer: 'The kitchen garden house on page one was built for one.',
            },
          ],
        },
        {
          key: 'footer_1',
          kind: 'footer',
          text: 'Larkmoss Glasshouses designs, builds and looks after growing houses.',
          links: [{ key: 'l1', text: 'Write to us', address: 'mailto:hello@larkmoss.example' }],
        },
      ],
      thanks: {
        title: 'It is on its way',
        text: 'Look into your mail in a minute or two. The figures on page two surprise most people.',
        button: '',
        address: '',
      },
    },
  },
  {
    key: 'page_light',
    slug: LIGHT_PAGE,
    name: 'Winter light, quiz',
    live: true,
    definition: {
      version: 2,
      title: 'How bright is your winter?',
      description: 'Five questions about light and glass in the dark months, and what four winters of measuring say to them.',
      layout: 'single',
      theme: LOOK,
      houseStyle: STYLE,
      share: picture(FILES.evening, 'A glasshouse lit from inside, at dusk'),
      blocks: [
        {
          key: 'heading_1',
          kind: 'heading',
          text: 'How bright is your winter?',
          under: 'Most people ask how warm a house should be. Plants ask how light it is.',
        },
        { key: 'point_1', kind: 'point', point: QUIZ.light },
        {
          key: 'text_1',
          kind: 'text',
          text: 'We hung meters in four houses from November to March, for four winters. What they said surprised us, and made us build differently.',
        },
        {
          key: 'footer_1',
          kind: 'footer',
          text: 'Larkmoss Glasshouses designs, builds and looks after growing houses.',
          links: [{ key: 'l1', text: 'Write to us', address: 'mailto:hello@larkmoss.example' }],
        },
      ],
      thanks: { title: 'Thank you', text: 'Your answers are on their way to you.', button: '', address: '' },
    },
  },
  {
    key: 'page_day',
    slug: 'open-day-at-brackwater',
    name: 'Open day at Brackwater, page',
    live: false,
    definition: {
      version: 2,
      title: 'Come and see the Brackwater house',
      description: '',
      layout: 'single',
      theme: LOOK,
      houseStyle: STYLE,
      share: null,
      blocks: [
        {
          key: 'heading_1',
          kind: 'heading',
          text: 'Stand in it before you build one',
          under: 'A Saturday in spring, ten to four, at the school in Brackwater.',
        },
        {
          key: 'picture_1',
          kind: 'picture',
          picture: picture(FILES.seedlings, 'Rows of seedlings in clay pots under glass'),
          caption: '',
          wide: true,
        },
        { key: 'point_1', kind: 'point', point: FORMS.day },
      ],
      thanks: { title: 'Your place is kept', text: 'We write a few days before, with the way there.', button: '', address: '' },
    },
  },
]

const is = (property: string, ...values: string[]) => ({ attribute: `property.${property}`, is: 'one_of', value: values })

const SCORECARD = {
  version: 1,
  halfLifeDays: 14,
  fit: [
    { key: 'public_house', name: 'School or council', points: 35, when: is('sector', 'school', 'council') },
    { key: 'market_garden', name: 'Market garden', points: 25, when: is('sector', 'market_garden') },
    { key: 'restaurant', name: 'Restaurant or hotel', points: 20, when: is('sector', 'restaurant') },
    { key: 'large', name: 'Over 200 m²', points: 30, when: is('size', 'large') },
    { key: 'medium', name: '30 to 200 m²', points: 20, when: is('size', 'medium') },
    { key: 'soon', name: 'Wants to grow this season', points: 15, when: is('timing', 'this_season') },
    { key: 'firm', name: 'Told us who they are with', points: 10, when: { attribute: 'property.company', is: 'filled' } },
    { key: 'looking', name: 'Just looking', points: -10, when: is('timing', 'someday') },
  ],
  interest: [
    {
      key: 'asked_visit',
      name: 'Asked for a visit',
      points: 30,
      on: 'entry',
      when: { attribute: 'point', is: 'equal', value: FORMS.visit },
    },
    {
      key: 'asked_guide',
      name: 'Asked for the price guide',
      points: 14,
      on: 'entry',
      when: { attribute: 'point', is: 'equal', value: FORMS.guide },
    },
    { key: 'asked_care', name: 'Asked about care', points: 20, on: 'entry', when: { attribute: 'point', is: 'equal', value: FORMS.care } },
    {
      key: 'other_entry',
      name: 'Filled in a form',
      points: 6,
      on: 'entry',
      when: { none: [{ attribute: 'point', is: 'one_of', value: [FORMS.visit, FORMS.guide, FORMS.care] }] },
    },
    {
      key: 'prices',
      name: 'Read the prices',
      points: 8,
      on: 'page_view',
      when: { attribute: 'page.path', is: 'starts_with', value: '/prices' },
    },
    { key: 'sums', name: 'Did a heating sum', points: 6, on: 'event', when: { attribute: 'event', is: 'equal', value: 'heating sum' } },
    {
      key: 'houses',
      name: 'Looked at growing houses',
      points: 4,
      on: 'page_view',
      when: { attribute: 'page.path', is: 'starts_with', value: '/growing-houses' },
    },
    {
      key: 'journal',
      name: 'Read the journal',
      points: 2,
      on: 'page_view',
      when: { attribute: 'page.path', is: 'starts_with', value: '/journal' },
    },
  ],
  labels: [
    { label: 'early', fit: -1000, interest: 0 },
    { label: 'warming', fit: 0, interest: 18 },
    { label: 'marketing_qualified', fit: 35, interest: 24 },
    { label: 'sales_ready', fit: 60, interest: 34 },
  ],
}

const ROUTING = {
  version: 2 as const,
  lanes: [
    {
      key: 'public',
      name: 'Schools and councils',
      when: is('sector', 'school', 'council'),
      pool: [
        { member: TEAM.mireille, share: 3 },
        { member: TEAM.desmond, share: 2 },
      ],
      promises: { sales_ready: 45 },
    },
    {
      key: 'kitchens',
      name: 'Kitchens and growers',
      when: is('sector', 'restaurant', 'market_garden'),
      pool: [{ member: TEAM.jonah }, { member: TEAM.mireille }],
    },
    { key: 'rest', name: 'Everyone else', when: null, pool: [{ member: TEAM.jonah }, { member: TEAM.desmond }, { member: TEAM.mireille }] },
  ],
}

const LISTS = { openDay: '01930000-0000-7000-8000-000000000020' }
const read = (path: string, times: number, days: number) => ({
  did: 'page',
  where: { all: [{ attribute: 'page.path', is: 'equal', value: path }] },
  times,
  days,
})
const sent = (point: string) => ({
  did: 'entry',
  where: { all: [{ attribute: 'point', is: 'equal', value: point }] },
  times: 1,
  days: null,
})
const SEGMENTS = [
  {
    id: '01930000-0000-7000-8000-000000000031',
    name: 'Weighing the prices',
    condition: { all: [read('/prices', 2, 30), { none: [sent(FORMS.visit)] }] },
  },
  {
    id: '01930000-0000-7000-8000-000000000032',
    name: 'Schools and councils that grow this year',
    condition: {
      all: [is('sector', 'school', 'council'), { attribute: 'property.timing', is: 'one_of', value: ['this_season', 'this_year'] }],
    },
  },
  {
    id: '01930000-0000-7000-8000-000000000033',
    name: 'Gone quiet',
    condition: {
      all: [
        { attribute: 'fit', is: 'at_least', value: 35 },
        { attribute: 'last_visit', is: 'older_days', value: 14 },
        { attribute: 'status', is: 'one_of', value: ['untouched', 'reaching_out', 'in_talks'] },
      ],
    },
  },
  {
    id: '01930000-0000-7000-8000-000000000034',
    name: 'Three weeks without a word',
    condition: {
      all: [
        { attribute: 'days_since_entry', is: 'at_least', value: 21 },
        { attribute: 'status', is: 'one_of', value: ['reaching_out', 'in_talks'] },
      ],
    },
  },
]

/** Hours that differ from the firm's: an early bird, and one with a long pause at noon. */
const HOURS: Record<string, Partial<ArchiveHours>> = {
  [TEAM.mireille]: { languages: ['fr', 'en'] },
  [TEAM.jonah]: { week: sameHours([1, 2, 3, 4, 5], 7, 16), languages: ['en', 'nl'] },
  [TEAM.desmond]: {
    week: [1, 2, 3, 4]
      .map(() => [
        { from: 540, until: 750 },
        { from: 840, until: 1110 },
      ])
      .concat([[{ from: 540, until: 750 }], [], []]),
    languages: ['en', 'de'],
    mostOpen: 400,
  },
}
/** Days on which the firm is shut, of a year and the next. */
const holidaysFrom = (year: number) =>
  [year, year + 1].flatMap(y => [
    { from: `${y}-05-01`, until: `${y}-05-01`, name: 'Labour Day' },
    { from: `${y}-08-15`, until: `${y}-08-15`, name: 'The Assumption' },
    { from: `${y}-12-24`, until: `${y}-12-31`, name: 'Between the years' },
  ])

const READY = [
  {
    id: '01900000-0000-7000-8000-00000000ca01',
    name: 'Offer a call',
    subject: 'When may I call you?',
    body: 'thank you for writing to us. When would a call suit you best? Ten minutes are enough.',
  },
  {
    id: '01900000-0000-7000-8000-00000000ca02',
    name: 'Not reached',
    subject: 'I tried to call you',
    body: 'I tried to reach you and did not want to give up so soon. When may I try again?',
  },
  {
    id: '01900000-0000-7000-8000-00000000ca03',
    name: 'After a visit',
    subject: 'Your site{{#lead.company}}, {{lead.company}}{{/lead.company}}',
    body: 'thank you for showing me round. The measurements are with our draughtsman; you will have drawings within ten days.\n\nIs there a plan of the drains? It would save us a second visit.',
  },
]

/**
 * The firm before anybody has come: the first lines of its archive.
 * @param leave when somebody is away
 */
export function firm(opened: string, leave: { from: string; until: string } | null = null): ArchiveLine[] {
  return [
    {
      kind: 'house',
      house: {
        name: 'Larkmoss Glasshouses',
        week: sameHours([1, 2, 3, 4, 5], 8, 18),
        zone: 'Europe/Paris',
        country: 'FR',
        currency: 'EUR',
        holidays: holidaysFrom(Number(opened.slice(0, 4)) || 2026),
      },
      labels: [
        { key: 'early', name: 'Early', rank: 1, qualified: false, responseTarget: 1800 },
        { key: 'warming', name: 'Warming', rank: 2, qualified: false, responseTarget: 600 },
        { key: 'marketing_qualified', name: 'Marketing qualified', rank: 3, qualified: true, responseTarget: 240 },
        { key: 'sales_ready', name: 'Sales ready', rank: 4, qualified: true, responseTarget: 60 },
      ],
      statuses: (
        [
          ['untouched', 'Untouched', 'first'],
          ['reaching_out', 'Reaching out', 'open'],
          ['in_talks', 'In talks', 'open'],
          ['proposal', 'Proposal', 'open'],
          ['won', 'Won', 'won', ['value', 'day']],
          ['lost', 'Lost', 'lost', ['reason'], LOST],
          ['parked', 'Parked', 'parked', ['until'], PARKED],
        ] as [string, string, Stage, Ask[]?, string[]?][]
      ).map(([key, name, stage, asks = [], reasons = []], i) => ({ key, name, rank: i + 1, stage, asks, reasons })),
      properties: (
        [
          ['email', 'Email', 'email'],
          ['first_name', 'First name', 'short_text'],
          ['last_name', 'Last name', 'short_text'],
          ['company', 'Company', 'short_text'],
          ['sector', 'Sector', 'one_of', { choices: SECTORS }],
          ['size', 'Size', 'one_of', { choices: SIZES }],
          ['timing', 'Timing', 'one_of', { choices: TIMINGS }],
          ['phone', 'Phone', 'phone', { sensitivity: 'private' }],
          ['town', 'Town', 'short_text'],
          ['country', 'Country', 'country'],
          ['message', 'Message', 'long_text'],
          ['budget', 'Budget', 'money', { sensitivity: 'private' }],
          ['build_by', 'To be built by', 'date'],
          ['crops', 'What will grow there', 'some_of', { choices: CROPS }],
          ['roof', 'On a roof', 'yes_no'],
          ['children', 'Children in it at once', 'number'],
          ['website', 'Web site', 'url'],
          ['campaign', 'Campaign', 'short_text'],
          ['has_house', 'Has a glasshouse already', 'yes_no'],
        ] as const
      ).map(([key, label, kind, more], i) => ({
        key,
        label,
        kind,
        rank: i + 1,
        sensitivity: 'ordinary' as const,
        choices: [],
        retired: false,
        ...more,
      })),
      topics: [
        { key: 'journal', name: 'The growing journal', rank: 1 },
        { key: 'days', name: 'Open days and courses', rank: 2 },
      ],
    },
    ...MEMBERS.map(m => ({ kind: 'member' as const, ...m, ...HOURS[m.email] })),
    ...(leave ? [{ kind: 'away' as const, member: TEAM.desmond, ...leave, standIn: TEAM.mireille }] : []),
    { kind: 'scorecard', at: opened, definition: SCORECARD },
    { kind: 'routing', at: opened, definition: ROUTING },
    ...Object.values(FILES).map(f => ({
      kind: 'file' as const,
      at: opened,
      ...f,
      by: TEAM.tamsin,
      content: readFileSync(new URL(`./files/${f.name}`, import.meta.url)).toString('base64'),
    })),
    { kind: 'list', id: LISTS.openDay, name: 'Open day in spring' },
    ...READY.map(t => ({ kind: 'ready_text' as const, at: opened, by: TEAM.mireille, ...t })),
    {
      kind: 'kept_view',
      at: opened,
      id: '01900000-0000-7000-8000-00000000ce01',
      name: 'Sales ready, not yet worked on',
      by: TEAM.ansel,
      query: { label: 'sales_ready', status: 'untouched', sort: 'waiting', order: 'up' },
      columns: ['company', 'waiting', 'owner', 'fit', 'interest', 'p.timing', 'created'],
    },
    {
      kind: 'kept_view',
      at: opened,
      id: '01900000-0000-7000-8000-00000000ce02',
      name: 'Offers that are out',
      member: TEAM.mireille,
      by: TEAM.mireille,
      query: { status: 'proposal', sort: 'updated', order: 'up' },
      columns: ['company', 'label', 'next_step', 'p.budget', 'owner', 'updated'],
    },
    ...SEGMENTS.map(s => ({ kind: 'segment' as const, at: opened, ...s })),
    { kind: 'style', id: STYLE, name: 'Larkmoss', theme: LOOK },
    ...[...POINTS, ...QUIZZES, chat({ look: LOOK, appears: APPEARS })].map(p => ({ kind: 'point' as const, at: opened, ...p })),
    ...notes(opened, TEAM.tamsin),
    ...PAGES.map(p => ({ kind: 'page' as const, at: opened, ...p })),
  ]
}
