import { nameFlaw } from '#core/points/surroundings'
import { contrast } from '#core/points/theme'
import { isAddress, TEST_WORDS } from '#core/points/checks'
import { pointsOn, type PageDefinition } from '#core/pages/definition'
import { isStandIn } from '#core/pages/starters'

/** What the checks compare a page with: the points there are (by key; whether they are live), and the names of the other points. */
export interface PageSurroundings {
  points: { key: string; name: string; live: boolean }[]
  files?: Set<string>
  otherNames?: string[]
  name?: string
}

/** Something wrong or doubtful on a page. A stop blocks publishing, a hint does not. `field`: `blocks.2.text`. */
export interface PageCheck {
  level: 'stop' | 'hint'
  frame: 'where' | 'page' | 'thanks' | 'theme'
  field: string
  message: string
  mend?: { name: string; apply: (page: PageDefinition) => PageDefinition }
}

/** Everything wrong or doubtful on a page, stops first. */
export const pageChecks = (page: PageDefinition, around: PageSurroundings): PageCheck[] => [...pageStops(page, around), ...pageHints(page)]

const without =
  (i: number) =>
  (p: PageDefinition): PageDefinition => ({ ...p, blocks: p.blocks.filter((_, n) => n !== i) })

/** What keeps a page from going live. Empty when it may. */
export function pageStops(page: PageDefinition, around: PageSurroundings): PageCheck[] {
  const found: PageCheck[] = []
  const say = (frame: PageCheck['frame'], field: string, message: string, mend?: PageCheck['mend']) =>
    found.push({ level: 'stop', frame, field, message, ...(mend && { mend }) })
  if (!page.title.trim()) say('where', 'title', 'The page has no title. Browsers, search and shared links show it.')
  const name = nameFlaw(around)
  if (name) say('where', 'name', name)
  if (!page.blocks.some(b => b.kind === 'heading' && b.text.trim()))
    say('page', 'blocks', 'The page has no heading. Say what people find here.', {
      name: 'Add one',
      apply: p => ({
        ...p,
        blocks: [{ key: keyFor(p), kind: 'heading', text: p.title.trim() || 'What people find here', under: '' }, ...p.blocks],
      }),
    })
  const points = page.blocks.flatMap((b, i) => (b.kind === 'point' ? [{ b, i }] : []))
  if (!points.length) say('page', 'blocks', 'Nobody can answer here: the page has no form. Add one.')
  points.forEach(({ b, i }, n) => {
    const known = around.points.find(p => p.key === b.point)
    if (n > 0) say('page', `blocks.${i}.point`, 'A page carries one form; this is one more.', { name: 'Take it out', apply: without(i) })
    else if (!b.point) say('page', `blocks.${i}.point`, 'Choose the form that stands on this page.')
    else if (!known) say('page', `blocks.${i}.point`, 'The form on this page was put away. Choose another.')
    else if (!known.live) say('page', `blocks.${i}.point`, `The form “${known.name}” is not live yet. Make it live first.`)
  })
  page.blocks.forEach((b, i) => {
    const out = { name: 'Take it out', apply: (p: PageDefinition) => ({ ...p, blocks: p.blocks.filter(o => o.key !== b.key) }) }
    const standIn = isStandIn(b) ? b.kind : null
    if (standIn === 'quote')
      say(
        'page',
        `blocks.${i}.text`,
        'The quotation came with the starter: nobody said it. Write what somebody really said, and who, or take it out.',
        out,
      )
    if (standIn === 'footer')
      say('page', `blocks.${i}.text`, 'The footer names no firm yet. Write whose page this is, or take it out.', out)
    if (standIn === 'heading')
      say('page', `blocks.${i}.under`, 'Under the heading it does not say yet when and where. Write it, or leave it empty.', {
        name: 'Leave it empty',
        apply: p => ({ ...p, blocks: p.blocks.map(o => (o.key === b.key && o.kind === 'heading' ? { ...o, under: '' } : o)) }),
      })
    if (standIn === 'text') say('page', `blocks.${i}.text`, 'A text only says what to write there. Write it, or take it out.', out)
    if (b.kind === 'picture' && !b.picture)
      say('page', `blocks.${i}.picture`, 'A picture is missing. Choose one, or take its block out.', {
        name: 'Take it out',
        apply: without(i),
      })
    if (b.kind === 'picture' && b.picture && around.files && !around.files.has(b.picture.file.id))
      say('page', `blocks.${i}.picture`, 'A picture is not there any more. Choose another.', { name: 'Take it out', apply: without(i) })
    if (b.kind === 'snippet' && !b.html.trim())
      say('page', `blocks.${i}.html`, 'A block for HTML has none in it. Paste it, or take the block out.', out)
    if (b.kind === 'footer')
      b.links.forEach(l => {
        if (!isAddress(l.address) && !/^(mailto:|tel:|\/)/.test(l.address))
          say('page', `blocks.${i}.links`, `“${l.text || l.address}” in the footer leads to no address. It should begin with https://.`, {
            name: 'Take it out',
            apply: p => ({
              ...p,
              blocks: p.blocks.map((o, n) => (n === i && o.kind === 'footer' ? { ...o, links: o.links.filter(x => x.key !== l.key) } : o)),
            }),
          })
      })
  })
  if (!page.thanks.title.trim()) say('thanks', 'thanks.title', 'The thank-you page has no title.')
  if (page.thanks.button && !isAddress(page.thanks.address))
    say('thanks', 'thanks.address', 'The button on the thank-you page leads nowhere. Its address should begin with https://.', {
      name: 'No button',
      apply: p => ({ ...p, thanks: { ...p.thanks, button: '' } }),
    })
  return found
}

const keyFor = (p: PageDefinition) => {
  for (let n = 1; ; n++) if (!p.blocks.some(b => b.key === `heading_${n}`)) return `heading_${n}`
}

/** What is doubtful. */
function pageHints(page: PageDefinition): PageCheck[] {
  const found: PageCheck[] = []
  const say = (frame: PageCheck['frame'], field: string, message: string) => found.push({ level: 'hint', frame, field, message })
  if (!page.description.trim()) say('where', 'description', 'The page has no description. Search and shared links show one.')
  if (!page.share) say('where', 'share', 'Links that people share show no picture. Choose one.')
  else if (page.share.width < 600) say('where', 'share', 'The picture for shared links is small; at least 1200 pixels wide look right.')
  page.blocks.forEach((b, i) => {
    const texts = textsOf(b)
    const word = TEST_WORDS.exec(texts.join(' '))?.[0]
    if (word) say('page', `blocks.${i}.text`, `“${word}” looks like a test word left in.`)
    if (b.kind === 'snippet' && b.html.trim()) {
      say(
        'page',
        `blocks.${i}.html`,
        `${b.title.trim() ? `“${b.title.trim()}”` : 'A block for HTML'} is code of somebody else: it runs in a frame of its own${b.agreed ? ', and only for visitors who agreed' : ', for every visitor, whatever they agreed to'}.`,
      )
      if (!b.title.trim()) say('page', `blocks.${i}.title`, 'What the HTML shows has no name for people who cannot see it.')
    }
    if (!['point', 'picture', 'snippet'].includes(b.kind) && !texts.join('').trim())
      say('page', `blocks.${i}.text`, 'A block has no words. Write some, or take it out.')
    if (b.kind === 'picture' && b.picture && !b.picture.alt.trim())
      say('page', `blocks.${i}.picture`, 'A picture has no words for people who cannot see it.')
    if (b.kind === 'benefits' && b.items.some(item => !item.title.trim() && !item.text.trim()))
      say('page', `blocks.${i}.items`, 'A benefit has no words.')
  })
  const at = page.blocks.findIndex(b => b.kind === 'point')
  const before = page.blocks.slice(0, at).flatMap(textsOf).join(' ').split(/\s+/).length
  if (page.layout === 'single' && at > 0 && before > 250)
    say('page', `blocks.${at}.point`, 'People read more than 250 words before they reach the form. Move it up, or put it beside the text.')
  for (const [a, b, what, least] of [
    ['ink', 'sheet', 'The text is hard to read on its ground', 4.5],
    ['accent', 'sheet', 'Links and buttons hardly stand out from the ground', 4.5],
  ] as const) {
    const ratio = contrast(page.theme[a], page.theme[b])
    if (ratio < least) say('theme', `theme.${a}`, `${what}: the contrast is ${ratio.toFixed(1)} and should be at least ${least}.`)
  }
  if (new Set(pointsOn(page)).size > 1) say('page', 'blocks', 'More than one action splits people’s minds.')
  return found
}

/** All words of a block that visitors read. */
export function textsOf(b: PageDefinition['blocks'][number]): string[] {
  switch (b.kind) {
    case 'heading':
      return [b.text, b.under]
    case 'text':
      return [b.text]
    case 'picture':
      return [b.caption]
    case 'quote':
      return [b.text, b.who]
    case 'benefits':
      return [b.title, ...b.items.flatMap(i => [i.title, i.text])]
    case 'answers':
      return [b.title, ...b.items.flatMap(i => [i.question, i.answer])]
    case 'footer':
      return [b.text, ...b.links.map(l => l.text)]
    default:
      return []
  }
}
