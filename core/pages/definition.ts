import type { Block, BlockOf, PageDefinition } from '#core/pages/schema'
import type { BlockKind } from '#core/pages/kinds'
import { HOUSE_THEME } from '#core/points/defaults'
import type { SentFile } from '#core/points/shapes/theme'
import { themeFiles } from '#core/points/theme'
import { PAGE_VERSION } from '#core/points/upgrade'

export { BLOCK_KINDS, PAGE_LIMITS, type BlockKind } from '#core/pages/kinds'
export type { Block, BlockOf, PageDefinition } from '#core/pages/schema'
export type { Mark as Picture } from '#core/points/shapes/theme'

export const BLOCK_NAMES: Record<BlockKind, string> = {
  heading: 'Heading',
  text: 'Text',
  picture: 'Picture',
  benefits: 'Benefits',
  quote: 'Quote',
  answers: 'Questions and answers',
  point: 'Form',
  snippet: 'HTML',
  footer: 'Footer',
}

const BLANK: { [K in BlockKind]: () => Omit<BlockOf<K>, 'key' | 'kind'> } = {
  heading: () => ({ text: '', under: '' }),
  text: () => ({ text: '' }),
  picture: () => ({ picture: null, caption: '', wide: false }),
  benefits: () => ({ title: '', items: [1, 2, 3].map(n => ({ key: `i${n}`, title: '', text: '' })) }),
  quote: () => ({ text: '', who: '' }),
  answers: () => ({ title: '', items: [1, 2].map(n => ({ key: `i${n}`, question: '', answer: '' })) }),
  point: () => ({ point: null }),
  snippet: () => ({ title: '', html: '', height: 120, agreed: true }),
  footer: () => ({ text: '', links: [] }),
}

/** A block with nothing in it, under a key that no other has. */
export function blankBlock(kind: BlockKind, taken: string[]): Block {
  return { key: freshBlockKey(kind, taken), kind, ...BLANK[kind]() } as Block
}
export function freshBlockKey(stem: string, taken: string[]): string {
  for (let n = 1; ; n++) if (!taken.includes(`${stem}_${n}`)) return `${stem}_${n}`
}

/** A new page: a heading and a place for a form, nothing else decided. */
export function blankPage(title: string): PageDefinition {
  return {
    version: PAGE_VERSION,
    language: 'en',
    title,
    description: '',
    share: null,
    layout: 'single',
    theme: HOUSE_THEME,
    houseStyle: null,
    blocks: [
      { key: 'heading_1', kind: 'heading', text: title, under: '' },
      { key: 'point_1', kind: 'point', point: null },
    ],
    thanks: { title: 'Thank you', text: 'We will be in touch.', button: '', address: '' },
  }
}

/** The keys of the points that stand on a page. */
export const pointsOn = (page: Pick<PageDefinition, 'blocks'>): string[] =>
  page.blocks.flatMap(b => (b.kind === 'point' && b.point ? [b.point] : []))

/** The files that a page shows. */
export const filesOn = (page: PageDefinition): SentFile[] => [
  ...page.blocks.flatMap(b => (b.kind === 'picture' && b.picture ? [b.picture.file] : [])),
  ...(page.share ? [page.share.file] : []),
  ...themeFiles(page.theme),
]
