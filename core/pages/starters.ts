import { blankPage, type Block, type PageDefinition } from '#core/pages/definition'

/** A page to begin with, for an occasion that many have. */
export interface PageStarter {
  key: string
  name: string
  what: string
  page: PageDefinition
}

const page = (
  title: string,
  description: string,
  layout: PageDefinition['layout'],
  blocks: Block[],
  thanks: Partial<PageDefinition['thanks']>,
): PageDefinition => {
  const blank = blankPage(title)
  return { ...blank, description, layout, blocks, thanks: { ...blank.thanks, ...thanks } }
}
const items = (...pairs: [string, string][]) => pairs.map(([title, text], n) => ({ key: `i${n + 1}`, title, text }))
const answers = (...pairs: [string, string][]) => pairs.map(([question, answer], n) => ({ key: `i${n + 1}`, question, answer }))

/** What stands in starters only to show what belongs there: nobody's address, and a quotation that nobody said. */
const FIRM = 'Your firm, your address'
const QUOTE = { text: 'We read it twice, and then we called.', who: 'Say who said it' }
const WHEN = 'Say when, and where.'
const SEEN = '**What there is to see**\n\nSay what happens in the morning, and what in the afternoon.'

/** Whether a block still says, in the place of the marketer, what its starter said. */
export function isStandIn(block: Block): boolean {
  if (block.kind === 'quote') return block.text.trim() === QUOTE.text || block.who.trim() === QUOTE.who
  if (block.kind === 'footer') return block.text.trim() === FIRM
  return block.kind === 'heading' ? block.under.trim() === WHEN : block.kind === 'text' && block.text.trim() === SEEN
}

/** The pages to begin with. Which form stands on one, and which pictures, is chosen afterwards. */
export const PAGE_STARTERS: PageStarter[] = [
  {
    key: 'guide',
    name: 'A guide to download',
    what: 'What is in it, and a form beside it',
    page: page(
      'The guide',
      'What we learnt in ten years, on twenty pages.',
      'beside',
      [
        {
          key: 'heading_1',
          kind: 'heading',
          text: 'What you should know before you begin',
          under: 'Twenty pages out of ten years. For nothing but your address.',
        },
        {
          key: 'text_1',
          kind: 'text',
          text: 'You find in it:\n\n- what it costs, and what it saves\n- the mistakes that everybody makes once\n- a plan for the first year',
        },
        { key: 'quote_1', kind: 'quote', ...QUOTE },
        { key: 'point_1', kind: 'point', point: null },
        { key: 'footer_1', kind: 'footer', text: FIRM, links: [] },
      ],
      { title: 'It is on its way', text: 'Look into your mail in a minute or two.' },
    ),
  },
  {
    key: 'visit',
    name: 'Ask for a visit',
    what: 'Why somebody should come, then the form',
    page: page(
      'Let us come and look',
      'An hour, at your place, and you know what is possible.',
      'single',
      [
        {
          key: 'heading_1',
          kind: 'heading',
          text: 'Let us come and look',
          under: 'An hour at your place, and you know what is possible, what it costs and how long it takes.',
        },
        {
          key: 'benefits_1',
          kind: 'benefits',
          title: '',
          items: items(
            ['It costs nothing', 'Also when nothing comes of it.'],
            ['You get a sketch', 'Within a week, with a price on it.'],
            ['One person', 'Who comes is who answers you afterwards.'],
          ),
        },
        { key: 'point_1', kind: 'point', point: null },
        {
          key: 'answers_1',
          kind: 'answers',
          title: 'What people ask us',
          items: answers(
            ['How soon can you come?', 'Most often within two weeks.'],
            ['What should we have ready?', 'Nothing. A plan helps, if there is one.'],
          ),
        },
        { key: 'footer_1', kind: 'footer', text: FIRM, links: [] },
      ],
      { text: 'One of us calls within a working day to find a date.' },
    ),
  },
  {
    key: 'day',
    name: 'A day to come by',
    what: 'When, where, and a place to keep',
    page: page(
      'Open day',
      'Come by, look around, ask everything.',
      'beside',
      [
        { key: 'heading_1', kind: 'heading', text: 'Come by and look around', under: WHEN },
        { key: 'picture_1', kind: 'picture', picture: null, caption: '', wide: false },
        { key: 'text_1', kind: 'text', text: SEEN },
        { key: 'point_1', kind: 'point', point: null },
        { key: 'footer_1', kind: 'footer', text: FIRM, links: [] },
      ],
      { title: 'Your place is kept', text: 'We write a few days before, with the way there.' },
    ),
  },
  {
    key: 'waiting',
    name: 'Not yet there',
    what: 'A short page for a waiting list',
    page: page(
      'Soon',
      'Be told first.',
      'single',
      [
        {
          key: 'heading_1',
          kind: 'heading',
          text: 'It is not there yet',
          under: 'Leave your address, and you hear before everybody else. One mail, when it is there.',
        },
        { key: 'point_1', kind: 'point', point: null },
      ],
      { title: 'You are on the list', text: 'We write once, when it is there.' },
    ),
  },
]
