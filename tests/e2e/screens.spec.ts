import { expect, test, type Page } from '../support/test'
import { ask, demo, send, somebody } from '../support/house'
import { axe, outside, overflow, signIn } from '../support/pages'

const SCREENS = ['/', '/capture', '/capture/points', '/capture/pages', '/capture/review', '/capture/properties', '/capture/live', '/capture/appearing', '/settings/site', '/settings/words', '/qualify', '/qualify/proof', '/qualify/suggested', '/qualify/segments', '/route', '/follow-up', '/learn', '/settings/keys', '/settings/colleagues', '/settings/deliveries', '/settings/deliveries?heap=sent']

async function more(): Promise<string[]> {
  const { leads } = await ask<{ leads: { id: string }[] }>('/api/v1/leads?label=sales_ready&limit=1')
  return [`/follow-up/leads/${leads[0]!.id}`]
}

/** What axe finds as it is, and in the dark, where only the colours are others. */
async function inBoth(page: Page): Promise<string[]> {
  // Of rows that are all alike a dozen tell as much as a hundred.
  await page.evaluate(() => {
    const sheet = new CSSStyleSheet()
    sheet.replaceSync('tbody tr:nth-child(n+13), ul > li:nth-child(n+13), ol > li:nth-child(n+13) { display: none !important }')
    document.adoptedStyleSheets = [sheet]
  })
  const turn = (dark: boolean) => page.evaluate(dark => void document.documentElement.classList.toggle('dark', dark), dark)
  const light = await axe(page)
  await turn(true)
  const dark = await axe(page, ['color-contrast'])
  await turn(false)
  return [...light, ...dark.map(found => `dark: ${found}`)]
}

test('axe finds nothing on any main screen, light or dark, and nothing sticks out', async ({ page }) => {
  test.setTimeout(420_000)
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' })
  const errors: string[] = []
  page.on('pageerror', e => errors.push(e.message))
  page.on('console', m => m.type() === 'error' && !m.text().includes('401') && errors.push(m.text()))
  await page.goto(`${demo().url}/sign-in`)
  await expect(page.getByRole('button', { name: /Orla/ })).toBeVisible()
  expect(await inBoth(page)).toEqual([])
  await signIn(page, 'orla')
  await page.goto(`${demo().url}/capture/points`)
  const editor = await page.getByRole('link', { name: 'Ask for a site visit', exact: true }).getAttribute('href')
  const appearing = await page.getByRole('link', { name: 'Call me back', exact: true }).getAttribute('href')
  await page.goto(`${demo().url}/capture/pages`)
  const landing = await page.getByRole('link', { name: 'Price guide, autumn', exact: true }).getAttribute('href')
  for (const path of [...SCREENS, ...await more(), editor!, landing!, `${landing!}/results`]) {
    await page.goto(demo().url + path)
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await page.waitForTimeout(500)
    expect.soft([path, await overflow(page)]).toEqual([path, 0])
    expect.soft([path, await inBoth(page)]).toEqual([path, []])
  }
  // The frames of the storyboard that the editor does not open with.
  await page.goto(demo().url + editor!)
  for (const frame of ['Where it stands', 'Thanks', 'By mail', 'What we do']) {
    await page.getByRole('button', { name: frame }).click()
    await page.waitForTimeout(250)
    expect.soft([frame, await inBoth(page)]).toEqual([frame, []])
  }
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  expect.soft(['Look', await inBoth(page)]).toEqual(['Look', []])
  await page.goto(`${demo().url}/capture/points`)
  await page.getByRole('link', { name: 'Price guide', exact: true }).click()
  await page.getByRole('button', { name: 'Wordings' }).click()
  await expect(page.getByText('is the best with a probability')).toBeVisible()
  expect.soft(['Wordings', await inBoth(page)]).toEqual(['Wordings', []])
  await page.goto(demo().url + appearing!)
  for (const frame of ['Where it stands', 'Invitation']) {
    await page.getByRole('button', { name: frame }).click()
    await page.waitForTimeout(400)
    expect.soft([frame, await inBoth(page)]).toEqual([frame, []])
  }
  await page.goto(demo().url + landing!)
  for (const frame of ['Where it is found', 'Thanks']) {
    await page.getByRole('button', { name: frame }).click()
    await page.waitForTimeout(250)
    expect.soft([frame, await inBoth(page)]).toEqual([frame, []])
  }
  await signIn(page, 'mireille')
  await expect(page.locator('.hand .timeline')).toBeVisible()
  await page.getByRole('button', { name: 'Why?' }).click()
  expect(await inBoth(page)).toEqual([])
  expect(errors).toEqual([])
})

test('whoever has it dark has it dark from the first moment on', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'dark' })
  await signIn(page, 'orla')
  await expect(page.locator('html.dark')).toBeVisible()
})

test('on a phone nothing sticks out, however long what people are called is, and a lead can be worked with', async ({ page }) => {
  const long = somebody(`bartholomew.elderfield-marchbank`)
  expect((await send('form_visit', { email: long, first_name: 'Bartholomewalexander', last_name: 'Elderfieldmarchbankconstantine', company: 'Underthornhollowmillracegrowersofalderbeck', sector: 'school', size: 'large' })).status).toBe(201)
  const { leads } = await ask<{ leads: { id: string }[] }>('/api/v1/leads?limit=12')
  await page.setViewportSize({ width: 390, height: 780 })
  await signIn(page, 'mireille')
  for (const path of [...SCREENS.slice(0, -1), ...await more(), ...leads.map(l => `/follow-up/leads/${l.id}`)]) {
    await page.goto(demo().url + path)
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await page.waitForTimeout(400)
    expect.soft([path, await overflow(page), await outside(page)]).toEqual([path, 0, []])
  }
  await page.goto(demo().url)
  await page.locator('.rows a').first().click()
  await expect(page).toHaveURL(/\/follow-up\/leads\//)
  await page.getByRole('textbox', { name: 'Note' }).fill('From the train')
  await page.getByRole('button', { name: 'Keep the note' }).click()
  await expect(page.locator('.note').getByText('From the train')).toBeVisible()
  // What has been scrolled under the bar at the top is not too small, but out of sight.
  await page.evaluate(() => scrollTo(0, 0))
  expect(await axe(page)).toEqual([])
})
