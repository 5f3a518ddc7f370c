export const PLACEMENTS = ['over', 'edge', 'corner', 'float', 'text', 'button'] as const
/** over: over the page; edge: a bar along an edge; corner: a card in a corner; float: a button of ours in a corner, that opens it; text: where the page keeps a place for it; button: behind an element of the page. */
export type Placement = (typeof PLACEMENTS)[number]

export const MOMENTS = ['seconds', 'scrolled', 'leaving', 'pages', 'idle', 'click', 'event'] as const
