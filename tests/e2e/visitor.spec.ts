import { expect, test } from '../support/test'
import { ask, demo, signedIn, somebody } from '../support/house'
import { axe, otherSite, overflow } from '../support/pages'

/** A test is quicker than anybody can read, and would be taken for the machine it is. */
const PERSON_MS = 700

test('a visitor reads, is told what is missing, sends, and is thanked', async ({ page }) => {
  const errors: string[] = []
  page.on('pageerror', e => errors.push(e.message))
  const { site } = demo().standins
  await page.goto(site)
  await page.getByRole('button', { name: 'Yes, remember' }).click()
  await page.goto(`${site}/prices`)
  await page.waitForTimeout(300)
  await page.goto(`${site}/contact?utm_source=fair&secret=1`)
  await page.getByRole('button', { name: 'Ask for a visit' }).click()
  await expect(page.getByRole('alert')).toContainText('Look at the marked answers')
  await expect(page.getByRole('radio', { name: 'A school or college' })).toBeFocused()
  await expect(page.getByText('Choose one of the answers.').first()).toBeVisible()
  await page.keyboard.press('Space')
  await page.getByRole('radio', { name: 'Over 200 m²' }).check()
  await page.getByLabel('First name').fill('Romilly')
  await page.getByLabel('Last name').fill('Fenwright')
  await page.getByLabel('E-mail address').fill('romilly at school')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('E-mail address')).toBeFocused()
  await expect(page.getByLabel('E-mail address')).toHaveAccessibleDescription(/not a complete e-mail address/)
  const email = somebody('romilly')
  await page.waitForTimeout(PERSON_MS)
  await page.getByLabel('E-mail address').fill(email)
  await page.keyboard.press('Enter')
  await expect(page.locator('.cv-thanks')).toContainText('One of us will call within a working day')
  await expect(page.locator('.cv-thanks')).toBeFocused()
  // The room that was kept for the form is no hole under a few words.
  expect(
    await page.locator('.cv-thanks').evaluate(thanks => (thanks.getRootNode() as ShadowRoot).host.getBoundingClientRect().height),
  ).toBeLessThan(250)
  const {
    leads: [lead],
  } = await ask<{ leads: { reasons: { rule: string }[] }[] }>(`/api/v1/leads?email=${email}`)
  expect(lead!.reasons.map(r => r.rule)).toEqual(
    expect.arrayContaining(['Asked for a visit', 'Read the prices', 'School or council', 'Over 200 m²']),
  )
  expect(errors).toEqual([])
})

test('without agreement nothing is kept in the browser and nothing is sent', async ({ page }) => {
  const sent: string[] = []
  page.on('request', r => r.method() === 'POST' && sent.push(r.url()))
  await page.goto(`${demo().standins.site}/prices`)
  await expect(page.getByLabel('E-mail address')).toBeVisible()
  await page.getByRole('button', { name: 'No, thank you' }).click()
  await page.goto(`${demo().standins.site}/journal/winter-light`)
  await expect(page.getByLabel('E-mail address')).toBeVisible()
  expect(sent.filter(u => u.includes('/w/'))).toEqual([])
  expect(await page.evaluate(() => Object.keys(localStorage).filter(k => k.startsWith('cavlin')))).toEqual([])
  expect(await page.context().cookies()).toEqual([])
})

test('a line that fails loses nothing: the same answers again are one entry', async ({ page }) => {
  const email = somebody('shaky')
  await page.goto(`${demo().standins.site}/journal/winter-light`)
  await page.getByLabel('E-mail address').fill(email)
  await page.waitForTimeout(PERSON_MS)
  // The entry arrives, its answer does not.
  let cut = true
  await page.route('**/entries', async route => {
    if (!cut) return route.continue()
    cut = false
    await route.fetch()
    await route.abort()
  })
  await page.getByRole('button', { name: 'Send me the journal' }).click()
  // It says so, keeps what was typed, and sends it again by itself.
  await expect(page.getByRole('alert')).toContainText('They are kept here, and sent again by themselves')
  await expect(page.getByLabel('E-mail address')).toHaveValue(email)
  await expect(page.getByText('Nearly there')).toBeVisible()
  const {
    leads: [lead],
  } = await ask<{ leads: { reasons: { axis: string }[] }[] }>(`/api/v1/leads?email=${email}`)
  expect(lead!.reasons.filter(r => r.axis === 'interest')).toHaveLength(1)
})

for (const width of [1280, 390]) {
  test(`nothing jumps when the form appears, ${width} wide`, async ({ page }) => {
    await page.setViewportSize({ width, height: 800 })
    await page.route('**/w/points/**', async route => {
      await new Promise(r => setTimeout(r, 700))
      await route.continue()
    })
    for (const path of ['/contact', '/prices', '/journal/winter-light', '/growing-houses']) {
      await page.addInitScript(() => {
        const w = window as { shifted?: number }
        w.shifted = 0
        new PerformanceObserver(list =>
          list.getEntries().forEach(e => {
            w.shifted! += (e as unknown as { value: number }).value
          }),
        ).observe({ type: 'layout-shift', buffered: true })
      })
      await page.goto(demo().standins.site + path)
      const button = page.locator('[data-cavlin] .cv-send')
      await button.scrollIntoViewIfNeeded()
      await expect(button).toBeVisible()
      await page.waitForTimeout(150)
      expect([path, await page.evaluate(() => (window as { shifted?: number }).shifted)]).toEqual([path, 0])
      expect(await overflow(page)).toBe(0)
    }
  })
}

test('works under a strict content security policy', async ({ page }) => {
  const complaints: string[] = []
  page.on('console', m => m.type() === 'error' && complaints.push(m.text()))
  const { url } = demo()
  const strict = await otherSite(
    `<!doctype html><html lang="en"><title>Strict</title><link rel="icon" href="data:,"><main><h1>Strict</h1><script async src="${url}/w/cavlin.js" data-point="form_journal"></script></main>`,
    { 'content-security-policy': `default-src 'none'; img-src data:; script-src ${url}; connect-src ${url}` },
  )
  await page.goto(strict.url)
  const email = somebody('strict')
  await page.getByLabel('E-mail address').fill(email)
  const box = await page.locator('[data-cavlin] form').boundingBox()
  expect(box!.width).toBeLessThanOrEqual(544)
  await page.getByRole('button', { name: 'Send me the journal' }).click()
  await expect(page.getByText('Nearly there')).toBeVisible()
  expect(complaints).toEqual([])
  strict.close()
})

test.describe('without JavaScript', () => {
  test.use({ javaScriptEnabled: false })
  test('the form on its own page works all the way', async ({ page }) => {
    const email = somebody('plain')
    await page.goto(`${demo().url}/p/price-guide`)
    await page.getByLabel('First name').fill('<b>Bo</b>')
    await page.waitForTimeout(PERSON_MS)
    await page.getByLabel('E-mail address').fill('nonsense')
    await page.getByRole('button').click()
    await expect(page.getByText('This is not a complete e-mail address.')).toBeVisible()
    await expect(page.getByText('Choose one of the answers.')).toBeVisible()
    await expect(page.getByLabel('First name')).toHaveValue('<b>Bo</b>')
    await page.getByLabel('A school or college').check()
    await page.getByLabel('E-mail address').fill(email)
    await page.getByRole('button').click()
    await expect(page).toHaveURL(/\/p\/price-guide\/thanks$/)
    await expect(page.getByText('It is on its way.')).toBeVisible()
    expect((await ask<{ leads: [] }>(`/api/v1/leads?email=${email}`)).leads).toHaveLength(1)
    await page.goto(`${demo().url}/p/no-such-form`)
    await expect(page.getByRole('heading')).toContainText('There is nothing here')
  })
})

test('a form speaks the language of the page it stands on, from right to left where that is written so', async ({ page }) => {
  const site = await otherSite(
    `<!doctype html><html lang="ar" dir="rtl"><head><title>زيارة</title></head><body><main><script async src="${demo().url}/w/cavlin.js" data-point="form_visit"></script></main></body></html>`,
  )
  try {
    await page.goto(site.url)
    await expect(page.locator('form.cv')).toHaveAttribute('dir', 'rtl')
    await page.getByRole('button', { name: 'اطلب زيارة' }).click()
    await expect(page.getByRole('alert')).toContainText('انظر إلى الإجابات المعلَّمة')
    const [title, box] = await Promise.all([page.getByText('اطلب منا أن نأتي ونعاين').boundingBox(), page.locator('form.cv').boundingBox()])
    // The first letters stand at the right edge.
    expect(
      await page
        .getByRole('radio')
        .first()
        .boundingBox()
        .then(r => box!.x + box!.width - r!.x - r!.width),
    ).toBeLessThan(40)
    expect(title!.x + title!.width).toBeGreaterThan(box!.x + box!.width - 40)
    expect(await overflow(page)).toBe(0)
    await page.getByLabel('الاسم الأول').fill('Ida')
    await page.getByLabel('اسم العائلة').fill('Reed')
    await page.getByLabel('البريد الإلكتروني').fill(somebody('rtl'))
    await page.getByRole('radio', { name: 'مدرسة أو كلية' }).check()
    await page.getByRole('radio', { name: 'لا أعرف بعد' }).check()
    await page.waitForTimeout(PERSON_MS)
    await page.getByRole('button', { name: 'اطلب زيارة' }).click()
    await expect(page.getByRole('status')).toContainText('شكرًا لك. يتصل بك أحدنا')
  } finally {
    site.close()
  }
})

test('axe finds nothing on what visitors see', async ({ page }) => {
  for (const address of [
    `${demo().url}/p/ask-for-a-visit`,
    `${demo().url}/p/ask-for-a-visit?lang=ar`,
    `${demo().url}/p/journal/thanks`,
    `${demo().url}/p/none`,
    `${demo().standins.site}/contact`,
  ]) {
    await page.goto(address)
    await page.waitForTimeout(500)
    expect([address, await axe(page)]).toEqual([address, []])
  }
})

test('a page of ours counts who looks and begins, and keeps nothing in a browser that did not agree', async ({ page, browser }) => {
  const looks: { kind: string; point?: string }[] = []
  page.on('request', r => r.url().endsWith('/w/looks') && looks.push(JSON.parse(r.postData()!) as { kind: string }))
  await page.goto(`${demo().url}/p/ask-for-a-visit`)
  // The form stands there before what counts is.
  await expect.poll(() => looks.map(l => l.kind)).toEqual(['seen'])
  await page.getByLabel(/^First name/).fill('Ida')
  await page.getByLabel(/^Last name/).click()
  await expect.poll(() => looks.map(l => l.kind)).toEqual(['seen', 'started', 'question'])
  expect(looks.every(l => !/visitor/.test(JSON.stringify(l)))).toBe(true)
  expect(await page.evaluate(() => Object.keys(localStorage))).toEqual([])
  // Where the firm's site does not ask, this page does, and whoever agrees here is followed here, and counted once.
  const orla = await signedIn('orla')
  const settings = (await (await orla('/api/team/site')).json()) as object
  try {
    expect(
      (await orla('/api/team/site', 'PUT', { ...settings, agreement: 'own', notice: 'May we remember which pages you read?' })).status,
    ).toBe(204)
    // A browser of its own: what is known of the site is kept for ten seconds.
    const other = await browser.newPage()
    const asks = other.getByRole('button', { name: 'Yes, remember' })
    await other.goto(`${demo().url}/p/ask-for-a-visit`)
    const trail = other.waitForRequest(r => r.url().endsWith('/w/trail'))
    await asks.click()
    expect((await trail).postData()).toContain('/p/ask-for-a-visit')
    const again: string[] = []
    other.on('request', r => again.push(new URL(r.url()).pathname))
    await other.reload()
    await expect.poll(() => again).toContain('/w/trail')
    await expect(asks).toHaveCount(0)
    expect(again).not.toContain('/w/looks')
  } finally {
    await orla('/api/team/site', 'PUT', settings)
  }
})
