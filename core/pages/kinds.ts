export const BLOCK_KINDS = ['heading', 'text', 'picture', 'benefits', 'quote', 'answers', 'point', 'snippet', 'footer'] as const
export type BlockKind = (typeof BLOCK_KINDS)[number]

export const PAGE_LIMITS = { blocks: 40, items: 20, line: 300, text: 8000, address: 2000, snippet: 20_000, tall: 3000 } as const
