import { expect, test, type Page } from '../support/test'
import { form } from '../support/forms'
import { demo, signedIn, somebody } from '../support/house'
import { axe, otherSite, overflow, signIn } from '../support/pages'

const PERSON_MS = 700
const site = () => demo().standins.site
const agree = (page: Page) => page.getByRole('button', { name: 'Yes, remember' }).click()
const kept = (page: Page) => page.evaluate(() => Object.keys(localStorage).filter(k => k.startsWith('cavlin')))
const card = (page: Page) => page.getByRole('complementary', { name: 'One of us calls you' })
const toEnd = (page: Page) => page.evaluate(() => scrollTo(0, document.body.scrollHeight))

test('a visitor is seen on the site as they read, page by page, and by name once they gave it', async ({ page, browser }) => {
  const visitor = await (await browser.newContext()).newPage()
  await signIn(page, 'tamsin', '/capture/live')
  await visitor.goto(`${site()}/?utm_source=larkletter`)
  await agree(visitor)
  await visitor.goto(`${site()}/journal/winter-light`)
  const here = page.locator('li', { hasText: 'from larkletter' })
  await expect(here).toContainText('What winter light is worth')
  const email = somebody('live')
  await visitor.getByLabel('E-mail address').fill(email)
  await visitor.waitForTimeout(PERSON_MS)
  await visitor.getByRole('button', { name: 'Send me the journal' }).click()
  await expect(visitor.getByText('Nearly there')).toBeVisible()
  await expect(here.getByRole('link', { name: email })).toBeVisible()
  await visitor.goto(`${site()}/prices`)
  await expect(here).toContainText('Prices')
  await here.getByRole('link', { name: email }).click()
  await expect(page.locator('.timeline .visit')).toContainText('from larkletter')
  await expect(page.locator('.timeline .visit')).toContainText('filled in “Journal by mail”')
  // Who leaves says so.
  const left = async () =>
    (
      (await (await page.request.get(`${demo().url}/api/team/visits?lately`)).json()) as {
        goneAt: string | null
        lead: { name: string } | null
      }[]
    ).find(v => v.lead?.name === email)!.goneAt
  expect(await left()).toBeNull()
  await visitor.goto('about:blank')
  await expect.poll(left).not.toBeNull()
  await visitor.context().close()
})

test('what was not sent when the line was down comes later, once', async ({ page, browser }) => {
  const visitor = await (await browser.newContext()).newPage()
  await visitor.goto(site())
  await agree(visitor)
  await visitor.waitForResponse(r => r.url().endsWith('/w/trail'))
  await visitor.route('**/w/trail', route => route.abort())
  const mark = `lost ${Date.now()}`
  await visitor.evaluate(name => {
    window.cavlin!('did', name)
    window.cavlin!('event', `${name}, as before`)
  }, mark)
  await visitor.waitForRequest(r => r.url().endsWith('/w/trail'))
  await visitor.unroute('**/w/trail')
  for (const path of ['/prices', '/journal', '/contact']) {
    await visitor.goto(site() + path)
    await visitor.waitForResponse(r => r.url().endsWith('/w/trail'))
  }
  await signIn(page, 'jonah')
  const visits = (await (await page.request.get(`${demo().url}/api/team/visits`)).json()) as { pages: { acts: { name?: string }[] }[] }[]
  expect(
    visits
      .flatMap(v => v.pages.flatMap(p => p.acts))
      .filter(a => a.name?.startsWith(mark))
      .map(a => a.name)
      .sort(),
  ).toEqual([mark, `${mark}, as before`])
  await visitor.context().close()
})

test('what our side could not take is offered again by itself', async ({ browser }) => {
  const visitor = await (await browser.newContext()).newPage()
  let refused = 0
  await visitor.route('**/w/trail', route => (refused++ ? route.continue() : route.fulfill({ status: 503 })))
  await visitor.goto(site())
  await agree(visitor)
  const taken = await visitor.waitForResponse(r => r.url().endsWith('/w/trail') && r.status() === 204)
  expect([refused, taken.request().postDataJSON().batches.length]).toEqual([2, 1])
  await visitor.context().close()
})

test('a browser that says no is left alone, and so is one whose storage is shut; neither breaks the page', async ({ browser }) => {
  for (const shut of ['says no', 'no storage']) {
    const visitor = await (await browser.newContext()).newPage()
    const sent: string[] = []
    const errors: string[] = []
    visitor.on('pageerror', e => errors.push(e.message))
    visitor.on('request', r => r.method() === 'POST' && r.url().includes('/w/') && sent.push(r.url()))
    await visitor.addInitScript(how => {
      if (how === 'says no') Object.defineProperty(Navigator.prototype, 'globalPrivacyControl', { value: true })
      else
        Object.defineProperty(window, 'localStorage', {
          get: () => {
            throw new DOMException('shut', 'SecurityError')
          },
        })
    }, shut)
    await visitor.goto(`${site()}/prices`)
    await agree(visitor)
    await expect(visitor.getByLabel('E-mail address')).toBeVisible()
    expect(await visitor.evaluate(() => window.cavlin!('agreed'))).toBe(false)
    if (shut === 'says no') expect(await kept(visitor)).toEqual([])
    expect([sent, errors]).toEqual([[], []])
    expect(await visitor.evaluate(() => Object.keys(window).filter(k => /cavlin/i.test(k)))).toEqual(['cavlin'])
    await visitor.context().close()
  }
})

test('changing one’s mind erases', async ({ browser }) => {
  const visitor = await (await browser.newContext()).newPage()
  await visitor.goto(site())
  await agree(visitor)
  await expect.poll(() => kept(visitor)).toContain('cavlin.visitor')
  await visitor.getByRole('link', { name: 'What we remember of your visit' }).click()
  const erased = visitor.waitForResponse(r => r.url().endsWith('/forget'))
  await visitor.getByRole('button', { name: 'No, thank you' }).click()
  expect((await erased).status()).toBe(204)
  expect(await kept(visitor)).toEqual([])
  // A site's own notice may say it in another word.
  await visitor.evaluate(() => window.cavlin!('agree'))
  await expect.poll(() => kept(visitor)).toContain('cavlin.visitor')
  const again = visitor.waitForResponse(r => r.url().endsWith('/forget'))
  await visitor.evaluate(() => window.cavlin!('decline'))
  expect((await again).status()).toBe(204)
  expect(await kept(visitor)).toEqual([])
  await visitor.context().close()
})

test('a card comes when one has read on, opens, is closed, and stays away', async ({ page }) => {
  await page.goto(`${site()}/growing-houses`)
  await agree(page)
  await page.waitForTimeout(800)
  await expect(card(page)).toBeHidden()
  await toEnd(page)
  await expect(card(page)).toBeVisible()
  expect(await axe(page)).toEqual([])
  expect(await overflow(page)).toBe(0)
  await card(page).getByRole('button', { name: 'Call me back' }).click()
  await expect(card(page).getByLabel('First name')).toBeFocused()
  expect(await axe(page)).toEqual([])
  await page.keyboard.press('Escape')
  await expect(card(page)).toHaveCount(0)
  await page.goto(`${site()}/prices`)
  await toEnd(page)
  await page.waitForTimeout(1200)
  await expect(card(page)).toHaveCount(0)
})

test('nobody is interrupted while typing, and a phone is left alone', async ({ page, browser }) => {
  await page.goto(`${site()}/growing-houses`)
  await page.getByLabel('First name').focus()
  await toEnd(page)
  await page.waitForTimeout(1200)
  await expect(card(page)).toHaveCount(0)
  await page.getByLabel('First name').blur()
  await expect(card(page)).toBeVisible()
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 780 } })).newPage()
  await phone.goto(`${site()}/growing-houses`)
  await toEnd(phone)
  await phone.waitForTimeout(1500)
  await expect(card(phone)).toHaveCount(0)
  await phone.context().close()
})

test('on a phone going back is the moment of leaving: once something is said, and the next step back leaves', async ({ browser }) => {
  const title = `Before you go ${Date.now()}`
  const { id } = await form(d => {
    d.title = title
    d.display = {
      ...d.display,
      on: true,
      placement: 'over',
      small: true,
      moments: [{ kind: 'leaving' }],
      pages: { all: [{ attribute: 'page.path', is: 'equal', value: '/asked' }] },
    }
  })
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 780 }, hasTouch: true, isMobile: true })).newPage()
  try {
    await expect(async () => expect(await (await fetch(`${demo().url}/w/site`)).text()).toContain(title)).toPass()
    await phone.goto(site())
    await phone.goto(`${site()}/asked`)
    await phone.waitForTimeout(1500)
    await phone.getByRole('heading', { name: 'Thank you' }).tap()
    await phone.goBack()
    const dialog = phone.getByRole('dialog', { name: title })
    await expect(dialog).toBeVisible()
    expect(phone.url()).toBe(`${site()}/asked`)
    await phone.keyboard.press('Escape')
    await expect(dialog).toHaveCount(0)
    await phone.goBack()
    await expect(phone.getByRole('heading', { name: 'Rooms of glass' })).toBeVisible()
    // Where nothing has to be said, one step back is one step back.
    await phone.goto(`${site()}/journal`)
    await phone.waitForTimeout(1500)
    await phone.getByRole('heading', { name: 'Journal', exact: true }).tap()
    await phone.goBack()
    await expect(phone.getByRole('heading', { name: 'Rooms of glass' })).toBeVisible()
  } finally {
    await (
      await signedIn('tamsin')
    )(`/api/team/points/${id}/archived`, 'PUT', { archived: true })
    await phone.context().close()
  }
})

test('who is about to leave is shown a dialog that keeps the focus and gives it back', async ({ page }) => {
  await page.goto(`${site()}/prices`)
  await agree(page)
  await expect(page.getByLabel('E-mail address')).toBeVisible()
  const link = page.getByRole('link', { name: 'Journal', exact: true })
  await link.focus()
  await page.mouse.move(400, 300)
  const dialog = page.getByRole('dialog', { name: 'Take the sums with you' })
  // The pointer leaves through the top, as on the way to the tabs.
  await expect(async () => {
    await page.evaluate(() => document.documentElement.dispatchEvent(new MouseEvent('mouseleave', { clientY: -3 })))
    await expect(dialog).toBeVisible({ timeout: 700 })
  }).toPass()
  expect(await axe(page)).toEqual([])
  for (let n = 0; n < 8; n++) await page.keyboard.press('Tab')
  expect(await page.evaluate(() => document.activeElement?.getAttribute('data-cavlin') ?? document.activeElement?.tagName)).toMatch(
    /form_sums|BODY/,
  )
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
  await expect(link).toBeFocused()
  await page.evaluate(() => document.documentElement.dispatchEvent(new MouseEvent('mouseleave', { clientY: -3 })))
  await page.waitForTimeout(900)
  await expect(dialog).toBeHidden()
})

test('the site shows all the other ways to stand: behind a button, in a place kept for it, along the edge', async ({ page }) => {
  await page.goto(site())
  // Until what watches is there, the link leads to the form's own page.
  const ready = page.waitForResponse(r => r.url().endsWith('/audience'))
  await agree(page)
  await ready
  await page.getByRole('link', { name: 'Plan a growing room' }).click()
  const dialog = page.getByRole('dialog', { name: 'Plan your growing room' })
  await expect(dialog).toBeVisible()
  await dialog.getByRole('button', { name: 'Close' }).click()
  await expect(dialog).toBeHidden()
  await page.goto(`${site()}/journal/heating-with-compost`)
  await expect(page.locator('[data-cavlin-place]').getByLabel('E-mail address')).toBeVisible()
  const bar = page.getByRole('complementary', { name: 'Walk through a warm house in January' })
  await expect(bar).toHaveCount(0)
  await page.goto(`${site()}/journal`)
  await expect(bar).toBeVisible()
  expect(await axe(page)).toEqual([])
  await bar.getByRole('button', { name: 'Come along' }).click()
  const tour = page.getByRole('dialog', { name: 'Walk through a warm house in January' })
  await tour.getByLabel('First name').fill('Ida')
  await tour.getByLabel('E-mail address').fill(somebody('tour'))
  await tour.getByLabel('How many of you?').fill('2')
  await page.waitForTimeout(PERSON_MS)
  await tour.getByRole('button', { name: 'We are coming' }).click()
  await expect(tour.getByText('Good. You get a mail')).toBeVisible()
})

test('a floating button of ours stands in its corner on each page, opens the form, and gives way to nobody', async ({ page }) => {
  const f = await form(d => {
    d.display = {
      ...d.display,
      on: true,
      placement: 'float',
      side: 'end',
      open: 'Ask us',
      pages: { all: [{ attribute: 'page.path', is: 'starts_with', value: '/journal' }] },
    }
  })
  await page.goto(`${site()}/journal`)
  const button = page.locator(`[data-cavlin="${f.key}"]`).getByRole('button', { name: 'Ask us' })
  await expect(button).toBeVisible()
  expect((await button.boundingBox())!.x).toBeGreaterThan(1000)
  await agree(page)
  await button.click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByLabel('E-mail address')).toBeVisible()
  expect(await axe(page)).toEqual([])
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  // It was closed and stays; it was asked for. On a page that it is not for it is gone.
  await expect(button).toBeVisible()
  await page.evaluate(() => history.pushState(null, '', '/elsewhere'))
  await expect(button).toHaveCount(0)
  await page.evaluate(() => history.pushState(null, '', '/journal/winter-light'))
  await expect(button).toHaveCount(1)
  await f.as(`/api/team/points/${f.id}/archived`, 'PUT', { archived: true })
})

test('made-up visitors stroll over the demo’s site in frames of the viewer’s browser, each somebody else, and are seen', async ({
  page,
  browser,
}) => {
  await signIn(page, 'tamsin', '/capture/live')
  const stage = await browser.newPage()
  await stage.goto((await page.getByRole('link', { name: 'Send visitors' }).getAttribute('href'))!)
  expect(await axe(stage)).toEqual([])
  await stage.getByRole('button', { name: 'Send visitors' }).click()
  await expect(stage.getByText(/reads/).nth(1)).toBeVisible({ timeout: 40_000 })
  await expect.poll(() => page.locator('.who').filter({ hasText: 'Somebody' }).count(), { timeout: 40_000 }).toBeGreaterThan(1)
  expect(await stage.evaluate(() => Object.keys(localStorage))).toEqual([])
  await stage.getByRole('button', { name: 'That is enough' }).click()
  await expect(stage.locator('figure')).toHaveCount(0)
  await stage.close()
})

test('without agreement a point that comes uninvited comes on the first page only', async ({ page }) => {
  await page.goto(`${site()}/growing-houses`)
  await toEnd(page)
  await expect(card(page)).toBeVisible()
  expect(await kept(page)).toEqual([])
  await page.getByRole('navigation').getByRole('link', { name: 'Prices' }).click()
  await expect(page.getByRole('heading', { name: 'Prices', level: 1 })).toBeVisible()
  await toEnd(page)
  await page.waitForTimeout(1500)
  await expect(card(page)).toHaveCount(0)
})

test('works under a strict policy with a nonce, on somebody else’s page', async ({ page }) => {
  const { url } = demo()
  const complaints: string[] = []
  page.on('console', m => ['error', 'warning'].includes(m.type()) && complaints.push(m.text()))
  const strict = await otherSite(
    `<!doctype html><html lang="en"><title>Nonce</title><link rel="icon" href="data:,"><main style="height:3000px"><h1>Nonce</h1><button data-cavlin-open="form_plan">Plan</button><script nonce="abc123" async src="${url}/w/cavlin.js"></script></main>`.replace(
      ' style="height:3000px"',
      '',
    ),
    {
      'content-security-policy': `default-src 'none'; img-src data: ${url}; font-src ${url}; script-src 'nonce-abc123'; connect-src ${url}`,
    },
  )
  await page.goto(strict.url)
  await expect(async () => {
    await page.getByRole('button', { name: 'Plan' }).click()
    await expect(page.getByRole('dialog', { name: 'Plan your growing room' })).toBeVisible({ timeout: 1000 })
  }).toPass()
  expect(complaints).toEqual([])
  strict.close()
})

test('a marketer says where a form appears, rehearses it, and finds it in the order of all', async ({ page, browser }) => {
  const name = `Corner ${Date.now()}`
  await signIn(page, 'tamsin', '/capture/points')
  await page.getByRole('button', { name: 'New form' }).click()
  await page.getByLabel('What do you call it').fill(name)
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Where it stands' }).click()
  await page.getByText('Shows by itself').click()
  await page.getByRole('button', { name: 'Only on some' }).click()
  await page.getByRole('group', { name: 'On which pages' }).getByLabel('With which').fill('/journal/winter')
  await page.getByRole('button', { name: 'One more moment' }).click()
  const rules = page.getByRole('list', { name: 'Rules' }).getByRole('listitem')
  await page.getByLabel('Page of the site').fill(`${site()}/journal/winter-light`)
  await expect(rules.filter({ hasText: 'Moment' })).toContainText('10 s on the page')
  await expect(rules.filter({ hasText: 'Moment' }).getByLabel('does not hold')).toBeVisible()
  await expect(page.getByText('One rule does not hold')).toBeVisible()
  await page.getByLabel(/^Seconds on the page/).fill('12')
  await expect(page.getByText('One rule does not hold')).toBeHidden()
  await page.getByLabel('Page of the site').fill(`${site()}/prices`)
  await expect(rules.filter({ hasText: '/prices' }).first().getByLabel('does not hold')).toBeVisible()
  // Where another comes before it in the order, that one speaks, until it was closed.
  const path = page.getByRole('group', { name: 'On which pages' }).getByLabel('With which')
  await path.fill('/prices')
  await page.getByLabel(/^Seconds on the page/).fill('30')
  await expect(page.getByText('“Call me back” comes before it in the order and speaks instead.')).toBeVisible()
  await expect(rules.filter({ hasText: 'Order' }).getByLabel('does not hold')).toBeVisible()
  expect(await axe(page)).toEqual([])
  await page.getByLabel('closed “Call me back” an hour ago').check()
  await expect(page.getByText('speaks instead')).toBeHidden()
  // What stands behind a button waits for no moment that was set for something else.
  await page.getByRole('radio', { name: 'Behind a button' }).check({ force: true })
  await expect(rules.filter({ hasText: 'Moment' })).toContainText('at once')
  await page.getByRole('radio', { name: 'Corner card' }).check({ force: true })
  await expect(rules.filter({ hasText: 'Moment' })).toContainText('10 s on the page')
  await path.fill('/journal/winter')

  await page.getByRole('button', { name: 'Invitation' }).click()
  await page.getByRole('textbox', { name: 'What the invitation says' }).fill('Four letters a year?')
  await page.getByRole('button', { name: 'Where it stands' }).click()
  await page.getByRole('button', { name: 'Take moment 1 out' }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.getByText('Edition 1 is live.').first()).toBeVisible()
  await page.goto(`${demo().url}/capture/appearing`)
  const row = page.getByRole('row', { name })
  await expect(row).toContainText('Corner card')
  const order = Number((await row.getByRole('cell').first().innerText()).match(/\d+/)![0])
  await row.getByRole('button', { name: `${name}: speaks earlier` }).click()
  await expect(row.getByRole('cell').first()).toContainText(String(order - 1))

  const visitor = await (await browser.newContext()).newPage()
  await expect(async () => {
    await visitor.goto(`${site()}/journal/winter-light`)
    await expect(visitor.getByRole('complementary', { name })).toContainText('Four letters a year?', { timeout: 1500 })
  }).toPass({ timeout: 20_000 })
  await visitor.context().close()
})
