import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { widthFor, widthsOf } from '#core/files/sizes'
import { pageChecks, pageStops } from '#core/pages/checks'
import { BLOCK_KINDS, blankBlock, blankPage, type Block, type PageDefinition } from '#core/pages/definition'
import { pageMarkup, richText } from '#core/pages/markup'
import { readPage } from '#core/pages/schema'
import { PAGE_STARTERS } from '#core/pages/starters'
import { merge } from '#core/points/merge'

const LIVE = { points: [{ key: 'form_a', name: 'A', live: true }] }
const draw = (page: PageDefinition) => pageMarkup(page, { point: key => `<form data-key="${key}"></form>` })
const withPoint = (page: PageDefinition): PageDefinition => ({
  ...page,
  blocks: page.blocks.map(b => (b.kind === 'point' ? { ...b, point: 'form_a' } : b)),
})
/** Any page that can be typed: each kind of block with any texts in it. */
const texts = fc.string({ unit: 'binary', maxLength: 60 })
const anyBlock = fc.tuple(fc.constantFrom(...BLOCK_KINDS), texts, texts, fc.boolean()).map(
  ([kind, a, b, wide]): Omit<Block, 'key'> =>
    ({
      heading: { kind, text: a, under: b },
      text: { kind, text: a },
      picture: { kind, picture: null, caption: a, wide },
      quote: { kind, text: a, who: b },
      benefits: { kind, title: a, items: [{ key: 'i1', title: b, text: a }] },
      answers: { kind, title: a, items: [{ key: 'i1', question: b, answer: a }] },
      point: { kind, point: wide ? 'form_a' : null },
      snippet: { kind, title: b, html: a, height: 90, agreed: wide },
      footer: { kind, text: a, links: [{ key: 'l1', text: b, address: 'https://larkmoss.example' }] },
    })[kind] as never,
)
const anyPage = fc
  .tuple(fc.array(anyBlock, { maxLength: 12 }), fc.constantFrom('single' as const, 'beside' as const), texts)
  .map(([blocks, layout, title]): PageDefinition => ({
    ...blankPage(title),
    layout,
    blocks: blocks.map((b, i) => ({ ...b, key: `b${i}` })) as Block[],
  }))

describe('a landing page', () => {
  it('is read back as it was written, whatever is typed into it', () => {
    fc.assert(
      fc.property(anyPage, page => {
        expect(readPage(JSON.parse(JSON.stringify(page)))).toEqual({ page, flaws: [] })
      }),
    )
  })
  it('draws each text as text: what is typed never becomes a tag or an attribute', () => {
    fc.assert(
      fc.property(anyPage, page => {
        const html = draw(page).replace(/<form data-key="form_a"><\/form>/g, '')
        for (const tag of html.match(/<[^>]*>/g) ?? [])
          expect(tag).toMatch(
            /^<\/?(div|section|footer|header|h1|h2|h3|p|ul|ol|li|a|nav|figure|figcaption|blockquote|details|summary|span|strong|em|code|pre|br|hr|img)( (class|data-block|data-field|href|aria-label|alt|src|width|height|start|title|decoding)="[^"<]*")* ?\/?>$/,
          )
      }),
    )
    expect(richText('<img src=x onerror=alert(1)> [x](javascript:alert(1)) [y](data:text/html,x)')).not.toMatch(/<img|href/)
  })
  it('has one first heading, and every block stands on it once, whatever the layout', () => {
    fc.assert(
      fc.property(anyPage, page => {
        const html = draw(page)
        expect((html.match(/<h1[ >]/g) ?? []).length).toBeLessThanOrEqual(1)
        for (const b of page.blocks) expect(html.split(`data-block="${b.key}"`).length - 1).toBeLessThanOrEqual(1)
      }),
    )
  })
  it('may go live from each starter once its form is chosen and its pictures are, and nothing is wrong with the mends', () => {
    for (const { key, page } of PAGE_STARTERS) {
      expect(readPage(JSON.parse(JSON.stringify(page))).flaws, key).toEqual([])
      let mended = withPoint(page)
      for (const stop of pageStops(mended, LIVE)) if (stop.mend) mended = stop.mend.apply(mended)
      expect([key, pageStops(mended, LIVE)]).toEqual([key, []])
    }
  })
  it('does not go live with what a starter only stands in for', () => {
    const said = Object.fromEntries(
      PAGE_STARTERS.map(({ key, page }) => [
        key,
        pageStops(withPoint(page), LIVE)
          .filter(s => /text|under/.test(s.field))
          .map(s => s.field),
      ]),
    )
    expect(said).toEqual({
      guide: ['blocks.2.text', 'blocks.4.text'],
      visit: ['blocks.4.text'],
      day: ['blocks.0.under', 'blocks.2.text', 'blocks.4.text'],
      waiting: [],
    })
    const guide = withPoint(PAGE_STARTERS[0]!.page)
    const own = {
      ...guide,
      blocks: guide.blocks.map(b =>
        b.kind === 'quote' ? { ...b, text: 'Warm since March.' } : b.kind === 'footer' ? { ...b, text: 'Larkmoss Glasshouses' } : b,
      ),
    }
    // Their words with nobody who said them are nobody's words still.
    expect(pageStops(own, LIVE).map(s => s.field)).toEqual(['blocks.2.text'])
  })
  it('is stopped for what visitors would miss, and each mend puts its own stop right', () => {
    fc.assert(
      fc.property(anyPage, page => {
        for (const stop of pageStops(page, LIVE)) {
          if (!stop.mend) continue
          const count = (p: PageDefinition) => pageStops(p, LIVE).filter(s => s.message === stop.message).length
          expect(count(stop.mend.apply(page))).toBeLessThan(count(page))
        }
      }),
    )
    const bare = { ...blankPage(''), blocks: [] }
    expect(pageStops(bare, LIVE).map(s => s.field)).toEqual(['title', 'blocks', 'blocks'])
    expect(pageStops(withPoint(blankPage('A')), { points: [{ key: 'form_a', name: 'A', live: false }] })[0]!.message).toContain(
      'not live yet',
    )
  })
  it('hints at test words, missing words for pictures, and a form far down; the name of another stops it', () => {
    const page = withPoint(blankPage('Lorem'))
    const long: Block = { key: 'text_1', kind: 'text', text: 'word '.repeat(300) }
    const picture: Block = {
      key: 'picture_1',
      kind: 'picture',
      picture: { file: { id: 'x', name: 'x.png' }, width: 9, height: 9, alt: '' },
      caption: '',
      wide: false,
    }
    expect(pageStops(page, { ...LIVE, name: 'a', otherNames: ['A '] }).map(s => s.field)).toContain('name')
    const hints = pageChecks(
      { ...page, blocks: [page.blocks[0]!, long, picture, page.blocks[1]!] },
      { ...LIVE, name: 'a', otherNames: ['A '] },
    )
      .filter(c => c.level === 'hint')
      .map(c => c.message)
      .join('\n')
    for (const said of ['“Lorem” looks like a test word', 'no words for people who cannot see it', 'more than 250 words'])
      expect(hints).toContain(said)
  })
  it('brings two people’s changes to different blocks together', () => {
    const base = { ...blankPage('A'), blocks: [blankBlock('heading', []), blankBlock('text', []), blankBlock('quote', [])] }
    const change = (i: number, text: string) => ({ ...base, blocks: base.blocks.map((b, n) => (n === i ? { ...b, text } : b)) as Block[] })
    const { merged, conflicts } = merge(base, change(0, 'mine'), {
      ...change(1, 'theirs'),
      blocks: [...change(1, 'theirs').blocks, blankBlock('footer', [])],
    })
    expect([merged.blocks.map(b => ('text' in b ? b.text : '')), conflicts]).toEqual([['mine', 'theirs', '', ''], []])
  })
})

describe('a picture', () => {
  it('is to be had in the widths that it has, and asks for none that it has not', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9000 }), fc.integer({ min: 1, max: 3000 }), (width, pixels) => {
        const widths = widthsOf(width)
        expect(widths).toEqual([...new Set(widths)].sort((a, b) => a - b))
        expect(widths.at(-1)).toBe(Math.min(width, 1920))
        const chosen = widthFor(width, pixels)
        expect(widths).toContain(chosen)
        // No narrower one would do, and a wider one is not needed.
        expect(widths.filter(w => w < chosen).every(w => w < pixels)).toBe(true)
        expect(chosen >= pixels || chosen === widths.at(-1)).toBe(true)
      }),
    )
  })
  it('stands on a page in all of them, the first at once and the others when they come into sight', () => {
    const picture = { file: { id: 'a', name: 'a “b”.jpg' }, alt: 'Two <houses>', width: 700, height: 300 }
    const page = {
      ...blankPage('P'),
      blocks: ['one', 'two'].map(key => ({ ...blankBlock('picture', []), key, picture })),
    } as PageDefinition
    const [first, second] = pageMarkup(page, { point: () => null }).match(/<img[^>]*>/g)!
    expect(first).toContain(
      'srcset="/w/files/a/a%20%E2%80%9Cb%E2%80%9D.jpg?w=320 320w, /w/files/a/a%20%E2%80%9Cb%E2%80%9D.jpg?w=480 480w, /w/files/a/a%20%E2%80%9Cb%E2%80%9D.jpg?w=700 700w"',
    )
    expect(first).toContain('alt="Two &#60;houses&#62;" width="700" height="300" fetchpriority="high"')
    expect(second).toContain('loading="lazy"')
  })
})
