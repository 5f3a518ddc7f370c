import type { Flaw } from '#core/flaws'
import type { SentFile } from '#core/files/kinds'
import { HOUSE_THEME, themeFiles, type Theme, type Mark } from '#core/points/theme'
import { DEFINITION_VERSION } from '#core/points/upgrade'

/** A picture of ours: which file, its size in pixels so that nothing jumps, and what it shows, for who cannot see it. */
export type Picture = Mark

/** A landing page as it is stored: what it says, block by block, and what comes when its point was answered. */
export interface PageDefinition {
  version: typeof DEFINITION_VERSION
  /** What the browser's tab, search and shared links say. */
  title: string
  description: string
  /** What shared links show (Open Graph). */
  share: Picture | null
  blocks: Block[]
  /** On wide screens: everything in one column, or the point beside what stands above it. */
  layout: 'single' | 'beside'
  theme: Theme
  houseStyle: string | null
  thanks: { title: string; text: string; /** A way on; '' for none. */ button: string; address: string }
}

export interface Blocks {
  heading: { text: string; under: string }
  /** Markdown (CommonMark): paragraphs, emphasis, lists, links. No HTML. */
  text: { text: string }
  picture: { picture: Picture | null; caption: string; wide: boolean }
  benefits: { title: string; items: { key: string; title: string; text: string }[] }
  quote: { text: string; who: string }
  answers: { title: string; items: { key: string; question: string; answer: string }[] }
  point: { point: string | null }
  footer: { text: string; links: { key: string; text: string; address: string }[] }
}
export type BlockKind = keyof Blocks
export type Block = { [K in BlockKind]: { key: string; kind: K } & Blocks[K] }[BlockKind]
export type BlockOf<K extends BlockKind> = Extract<Block, { kind: K }>

export const BLOCK_KINDS = ['heading', 'text', 'picture', 'benefits', 'quote', 'answers', 'point', 'footer'] as const
export const BLOCK_NAMES: Record<BlockKind, string> = {
  heading: 'Heading', text: 'Text', picture: 'Picture', benefits: 'Benefits', quote: 'Quote', answers: 'Questions and answers', point: 'Form', footer: 'Footer',
}
export const PAGE_LIMITS = { blocks: 40, items: 20, line: 300, text: 8000, address: 2000 } as const

const BLANK: { [K in BlockKind]: () => Blocks[K] } = {
  heading: () => ({ text: '', under: '' }),
  text: () => ({ text: '' }),
  picture: () => ({ picture: null, caption: '', wide: false }),
  benefits: () => ({ title: '', items: [1, 2, 3].map(n => ({ key: `i${n}`, title: '', text: '' })) }),
  quote: () => ({ text: '', who: '' }),
  answers: () => ({ title: '', items: [1, 2].map(n => ({ key: `i${n}`, question: '', answer: '' })) }),
  point: () => ({ point: null }),
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
    version: DEFINITION_VERSION, title, description: '', share: null, layout: 'single', theme: HOUSE_THEME, houseStyle: null,
    blocks: [{ key: 'heading_1', kind: 'heading', text: title, under: '' }, { key: 'point_1', kind: 'point', point: null }],
    thanks: { title: 'Thank you', text: 'We will be in touch.', button: '', address: '' },
  }
}

/** The keys of the points that stand on a page. */
export const pointsOn = (page: Pick<PageDefinition, 'blocks'>): string[] => page.blocks.flatMap(b => b.kind === 'point' && b.point ? [b.point] : [])

/** The files that a page shows. */
export const filesOn = (page: PageDefinition): SentFile[] => [...page.blocks.flatMap(b => b.kind === 'picture' && b.picture ? [b.picture.file] : []), ...(page.share ? [page.share.file] : []), ...themeFiles(page.theme)]

export type ReadPage = { page: PageDefinition; flaws: [] } | { page: null; flaws: Flaw[] }
