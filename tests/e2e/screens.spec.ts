import { expect, test } from '../support/test'
import { ask, demo, send, somebody } from '../support/house'
import { axe, outside, overflow, signIn } from '../support/pages'

const SCREENS = ['/', '/capture', '/capture/points', '/capture/pages', '/capture/review', '/capture/properties', '/capture/live', '/capture/appearing', '/settings/site', '/qualify', '/qualify/segments', '/route', '/follow-up', '/learn', '/settings/keys', '/settings/colleagues', '/settings/deliveries', '/settings/deliveries?heap=sent']

async function more(): Promise<string[]> {
  const { leads } = await ask<{ leads: { id: string }[] }>('/api/v1/leads?label=sales_ready&limit=1')
  return [`/follow-up/leads/${leads[0]!.id}`]
}

for (const scheme of ['light', 'dark'] as const) {
  test(`axe finds nothing on any main screen, and nothing sticks out, ${scheme}`, async ({ page }) => {
    test.setTimeout(300_000)
    // In the dark only the colours are others.
    const rules = scheme === 'dark' ? ['color-contrast'] : undefined
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' })
    const errors: string[] = []
    page.on('pageerror', e => errors.push(e.message))
    page.on('console', m => m.type() === 'error' && !m.text().includes('401') && errors.push(m.text()))
    await page.goto(`${demo().url}/sign-in`)
    await expect(page.getByRole('button', { name: /Orla/ })).toBeVisible()
    expect(await axe(page, rules)).toEqual([])
    await signIn(page, 'orla')
    await page.goto(`${demo().url}/capture/points`)
    const editor = await page.getByRole('link', { name: 'Ask for a site visit' }).getAttribute('href')
    const appearing = await page.getByRole('link', { name: 'Call me back' }).getAttribute('href')
    await page.goto(`${demo().url}/capture/pages`)
    const landing = await page.getByRole('link', { name: 'Price guide, autumn' }).getAttribute('href')
    for (const path of [...SCREENS, ...await more(), editor!, landing!]) {
      await page.goto(demo().url + path)
      await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
      await page.waitForTimeout(500)
      expect.soft([path, await axe(page, rules)]).toEqual([path, []])
      expect.soft([path, await overflow(page)]).toEqual([path, 0])
    }
    // The frames of the storyboard that the editor does not open with.
    await page.goto(demo().url + editor!)
    for (const frame of ['Where it stands', 'Thanks', 'By mail', 'What we do']) {
      await page.getByRole('button', { name: frame }).click()
      await page.waitForTimeout(250)
      expect.soft([frame, await axe(page, rules)]).toEqual([frame, []])
    }
    await page.getByRole('button', { name: 'Look', exact: true }).click()
    expect.soft(['Look', await axe(page, rules)]).toEqual(['Look', []])
    await page.goto(`${demo().url}/capture/points`)
    await page.getByRole('link', { name: 'Price guide', exact: true }).click()
    await page.getByRole('button', { name: 'Wordings' }).click()
    await expect(page.getByText('is the best with a probability')).toBeVisible()
    expect.soft(['Wordings', await axe(page, rules)]).toEqual(['Wordings', []])
    await page.goto(demo().url + appearing!)
    for (const frame of ['Where it stands', 'Invitation']) {
      await page.getByRole('button', { name: frame }).click()
      await page.waitForTimeout(400)
      expect.soft([frame, await axe(page, rules)]).toEqual([frame, []])
    }
    await page.goto(demo().url + landing!)
    for (const frame of ['Where it is found', 'Thanks']) {
      await page.getByRole('button', { name: frame }).click()
      await page.waitForTimeout(250)
      expect.soft([frame, await axe(page, rules)]).toEqual([frame, []])
    }
    await signIn(page, 'mireille')
    await expect(page.locator('.hand .timeline')).toBeVisible()
    await page.getByRole('button', { name: 'Why?' }).click()
    expect(await axe(page, rules)).toEqual([])
    expect(errors).toEqual([])
  })
}

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
