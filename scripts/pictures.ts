import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { chromium as browserOf, type BrowserContextOptions, type Page } from '@playwright/test'
import { CHROMIUM } from './chromium'
import { chromium } from './debian'
import { readPlace } from './place'
import { root } from './prepare.mjs'
import { houseToTry, placeToTry } from './try-place'

// npm run pictures [-- name …]: takes the pictures of the main views anew, from a house of its own with the demo data.
const wanted = process.argv.slice(2)
// Where the demo stands, too, so that addresses in the pictures are the usual ones.
const place = { ...(await placeToTry(root)), ...usual() }
const { open: openHouse, end } = houseToTry(place)

function usual() {
  const { ports, url } = readPlace(root)
  return { ports, url }
}

interface Demo {
  url: string
  members: { email: string; password: string }[]
  standins: { site: string; mailbox: string }
}

try {
  await chromium()
  await openHouse()
  const demo = JSON.parse(readFileSync(join(place.data, 'demo.json'), 'utf8')) as Demo
  const browser = await browserOf.launch({ ...CHROMIUM })
  const open = async (more: BrowserContextOptions = {}): Promise<Page> =>
    (
      await browser.newContext({
        viewport: { width: 1280, height: 800 },
        locale: 'en-GB',
        timezoneId: 'Europe/Paris',
        reducedMotion: 'reduce',
        // What headless Chromium calls itself counts as a robot.
        userAgent: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Safari/537.36',
        ...more,
      })
    ).newPage()
  const as = async (who: string, path: string, more?: BrowserContextOptions): Promise<Page> => {
    const page = await open(more)
    const { email, password } = demo.members.find(m => m.email.startsWith(who))!
    await page.request.post(`${demo.url}/api/session`, { data: { email, password } })
    await page.goto(demo.url + path)
    return page
  }
  const form = async (name: string): Promise<Page> => {
    const page = await as('tamsin', '/capture/points')
    await page.getByRole('link', { name, exact: true }).click()
    await page.getByRole('button', { name: 'Where it stands' }).waitFor()
    return page
  }
  /** Somebody on the site who agreed to be remembered, and what they read. */
  const visitor = async (paths: string[], more?: BrowserContextOptions): Promise<Page> => {
    const page = await open(more)
    for (const [i, path] of paths.entries()) {
      await page.goto(demo.standins.site + path)
      if (!i) await page.getByRole('button', { name: 'Yes, remember' }).click()
      await page.waitForTimeout(2000)
    }
    return page
  }

  /** A question put to the chat, and what came back. */
  const talking = async (page: Page): Promise<Page> => {
    await page.getByRole('button', { name: 'Ask a grower' }).click()
    await page.getByRole('button', { name: 'I have a question' }).click()
    await page.getByText('What would you like to know?').waitFor()
    await page.getByRole('textbox', { name: 'Write a message' }).fill('Do the vents need electricity?')
    await page.keyboard.press('Enter')
    await page.getByText('Does that help?').waitFor()
    return page
  }

  const views: Record<string, () => Promise<Page>> = {
    today: async () => {
      const page = await as('mireille', '/')
      await page.locator('.rows a').first().waitFor()
      await page.getByRole('article').waitFor()
      return page
    },
    team: async () => {
      const page = await as('ansel', '/')
      await page
        .locator('tbody')
        .first()
        .getByRole('button', { name: / overdue/ })
        .first()
        .click()
      return page
    },
    board: () => as('mireille', '/follow-up/board'),
    lead: async () => {
      const page = await as('mireille', '/follow-up?status=in_talks')
      await page.locator('tbody a').first().click()
      return page
    },
    'lead-phone': async () => {
      const page = await as('mireille', '/', { viewport: { width: 390, height: 780 }, isMobile: true, hasTouch: true })
      await page.locator('main a[href*="/leads/"], main li a').first().click()
      return page
    },
    editor: () => form('Plan a growing room'),
    results: async () => {
      const page = await as('tamsin', '/capture/points')
      await page.getByRole('link', { name: /^Results of Ask for a site visit/ }).click()
      await page.getByRole('button', { name: '90 days' }).click()
      await page.getByText('Seen').first().waitFor()
      return page
    },
    quiz: async () => {
      const page = await form('Which growing room suits you?')
      await page.getByRole('button', { name: 'Weights' }).click()
      await page.getByText('Worked out over all').waitFor()
      return page
    },
    flow: async () => {
      const page = await form('Ask a grower')
      await page.getByRole('button', { name: 'Rehearsal' }).click()
      const rehearsal = page.getByRole('region', { name: 'Rehearsal' })
      await rehearsal.getByRole('button', { name: 'I am planning something' }).click()
      await rehearsal.getByRole('textbox').fill('A growing room beside the canteen')
      await page.keyboard.press('Enter')
      await rehearsal.getByRole('button', { name: 'Within a year' }).click()
      await page.getByRole('button', { name: 'Rehearsal' }).evaluate(e => e.scrollIntoView())
      return page
    },
    conversations: async () => {
      const page = await as('mireille', '/follow-up/conversations')
      await page.getByRole('listitem').filter({ hasText: 'Oriel' }).getByRole('link').click()
      await page.getByRole('region', { name: 'Conversation with Oriel' }).waitFor()
      await page.getByRole('button', { name: 'Take it' }).click()
      await page.getByRole('textbox', { name: 'Answer' }).fill('Nine metres is plenty. Is the wall plastered?')
      await page.keyboard.press('Enter')
      await page.getByLabel('Only for colleagues').check()
      await page.getByRole('textbox', { name: 'Note for colleagues' }).fill('Same council as Brackwater: they know us.')
      await page.getByRole('button', { name: 'Note it' }).click()
      return page
    },
    notes: () => as('tamsin', '/capture/notes'),
    'chat-window': async () => talking(await visitor(['/prices'])),
    'chat-phone': async () =>
      talking(await visitor(['/prices'], { viewport: { width: 390, height: 780 }, isMobile: true, hasTouch: true })),
    qualify: async () => {
      const page = await as('ansel', '/qualify')
      await page.getByLabel('Where they came from in the last seven days').check()
      const box = (await page.locator('canvas[role=application]').boundingBox())!
      await page.mouse.move(box.x + box.width * 0.3, box.y + 60)
      await page.mouse.down()
      await page.mouse.move(box.x + box.width * 0.75, box.y + 222, { steps: 5 })
      await page.mouse.up()
      await page.getByRole('region', { name: 'Chosen on the square' }).waitFor()
      return page
    },
    review: async () => {
      const page = await as('ansel', '/qualify/review')
      // Who may be here twice is found in pieces, behind all that happened in four months.
      await page.getByRole('listitem').filter({ hasText: 'Ottoline Farrowmere' }).waitFor({ timeout: 180_000 })
      await page.getByRole('listitem').filter({ hasText: 'Ottoline Farrowmere' }).getByRole('link').click()
      await page.getByRole('region', { name: 'Two leads side by side' }).waitFor()
      return page
    },
    'dry-run': async () => {
      const page = await as('ansel', '/qualify')
      await page.getByLabel('Points of Asked for a visit').fill('20')
      await page.getByLabel('Points of Asked for a visit').press('Tab')
      await page.getByLabel('Fit from, for Sales ready').fill('50')
      await page.getByLabel('Fit from, for Sales ready').press('Tab')
      await page.getByText('All saved').waitFor()
      await page.getByRole('button', { name: 'Dry run', exact: true }).click()
      await page
        .getByRole('button', { name: /^Why, for / })
        .first()
        .click()
      await page.getByRole('table', { name: /^Why, for / }).waitFor()
      return page
    },
    proof: async () => {
      const page = await as('ansel', '/qualify/proof')
      await page.getByText('Which rules earn their points').waitFor()
      return page
    },
    'plan-run': async () => {
      const page = await as('ansel', '/route')
      await page.getByLabel('Share of Mireille Vauclair in Schools and councils').fill('1')
      await page.getByLabel('Share of Mireille Vauclair in Schools and councils').press('Tab')
      await page.getByText('All saved').waitFor()
      await page.getByRole('link', { name: 'Dry run' }).click()
      await page.getByRole('button', { name: 'Run it' }).click()
      await page.getByRole('table').first().waitFor()
      return page
    },
    now: async () => {
      await visitor(['/?utm_source=larkletter', '/journal/winter-light'])
      await visitor(['/growing-houses?utm_source=garden-fair'])
      await visitor(['/', '/growing-houses', '/prices'], {
        viewport: { width: 390, height: 780 },
        isMobile: true,
        hasTouch: true,
        userAgent: 'Mozilla/5.0 (Linux; Android 14; Pixel) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Mobile Safari/537.36',
      })
      const named = await visitor(['/journal/winter-light?utm_source=growers-weekly'])
      await named.getByLabel('E-mail address').fill('ottilie@lane.example')
      await named.getByRole('button', { name: 'Send me the journal' }).click()
      await named.getByText('Nearly there').waitFor()
      await named.goto(`${demo.standins.site}/prices`)
      return as('tamsin', '/capture/live')
    },
  }
  for (const [name, view] of Object.entries(views)) {
    if (wanted.length && !wanted.includes(name)) continue
    const page = await view()
    await page.waitForLoadState('networkidle', { timeout: 3000 }).catch(() => {})
    await page.waitForTimeout(1000)
    await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) })
    console.log(`  ${name}`)
    if (name !== 'now') await page.context().close()
  }
  await browser.close()
  await end(0)
} catch (error) {
  console.error(error)
  await end(1)
}
