import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '../support/test'
import { ask, demo, somebody } from '../support/house'
import { axe, drag, otherSite, overflow, signIn } from '../support/pages'

/** Who answers faster than this is taken for a machine. */
const PERSON_MS = 700
const preview = (page: Page) => page.getByLabel('Preview', { exact: true })
const PICTURE = new URL('../../demo/files/seedlings.jpg', import.meta.url)

test('a marketer makes a landing page, and a visitor on a phone comes through it to its thanks', async ({ page, browser }) => {
  const name = `Page ${Date.now()}`
  await signIn(page, 'tamsin', '/capture/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await page.getByText('Ask for a visit').click()
  await page.getByLabel('What do you call it').fill(name)
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name among yourselves')).toHaveValue(name)
  await expect(page.getByRole('button', { name: 'Make it live', exact: true })).toBeDisabled()

  // What is missing leads to its spot.
  await page.getByRole('button', { name: /Choose the form that stands on this page/ }).click()
  await page.getByRole('combobox', { name: 'Form', exact: true }).click()
  await page.getByRole('option', { name: 'Ask for a site visit' }).click()
  await expect(preview(page).getByRole('button', { name: 'Ask for a visit' })).toBeVisible()

  // What a starter only stands in for does not go live.
  const standIn = page.getByRole('list', { name: 'Checks' }).getByRole('listitem').filter({ hasText: 'The footer names no firm yet' })
  await standIn.getByRole('button', { name: 'Take it out', exact: true }).click()
  await expect(standIn).toBeHidden()

  // Texts are changed where they stand.
  await preview(page).getByRole('textbox', { name: 'Text' }).first().fill('Let us see your <roof>')
  await expect(preview(page).getByRole('heading', { level: 1 })).toHaveText('Let us see your <roof>')
  await page.getByRole('button', { name: 'Picture', exact: true }).click()
  await page.getByRole('button', { name: 'Picture: choose' }).click()
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: `trays-${Date.now()}.jpg`, mimeType: 'image/jpeg', buffer: readFileSync(PICTURE) })
  await expect(preview(page).locator('figure img')).toBeVisible()
  await page.getByLabel('What it shows, for who cannot see it').fill('Seedlings in pots')
  await page.getByRole('button', { name: 'Picture: choose another' }).click()
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'lie.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('<html>no picture</html>') })
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('cannot be taken')
  await page.keyboard.press('Escape')

  // Order by keyboard and by drag inside the frame; and back by undo.
  const order = () =>
    preview(page)
      .locator('[data-block]')
      .evaluateAll(list => list.map(b => (b as HTMLElement).dataset.block))
  const before = await order()
  await expect(preview(page).locator('figure img')).toHaveJSProperty('complete', true)
  await expect(async () => {
    await preview(page).locator('[data-block=benefits_1]').hover()
    await drag(page, preview(page).locator('[data-block=benefits_1] > .held-by'), preview(page).locator('[data-block=picture_1]'))
    await expect
      .poll(order, { timeout: 1500 })
      .toEqual(['heading_1', 'benefits_1', ...before.filter(b => !['heading_1', 'benefits_1'].includes(b!))])
  }).toPass()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(order).toEqual(before)

  await page.getByRole('button', { name: 'Where it is found' }).click()
  const slug = `roof-${Date.now()}`
  await page.getByLabel('Address', { exact: true }).fill(slug)
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  await expect(page.getByText(`It stands at /p/${slug} now`)).toBeVisible()
  await page.getByLabel('Description, in search and shared links').fill('An hour, and you know.')
  await page.getByRole('button', { name: 'Thanks' }).click()
  await page.getByLabel('Title', { exact: true }).fill('We are on our way')
  // Code of somebody else: one piece for everybody, one that waits for agreement.
  await page.getByRole('button', { name: /^The page/ }).click()
  for (const [title, html] of [
    [
      'Opening hours',
      '<div style="height:333px">Open from eight</div><script>try { parent.document.title = "taken" } catch { document.body.append("kept out") }</script>',
    ],
    ['Counter', '<p>Counted</p>'],
  ] as const) {
    await page.getByRole('group', { name: 'Add a block' }).getByRole('button', { name: 'HTML' }).click()
    await page.getByLabel('What it shows, for who cannot see it').fill(title)
    await page.getByRole('textbox', { name: 'HTML' }).fill(html)
    if (title === 'Opening hours') await page.getByLabel('Only for visitors who agreed').uncheck()
  }
  await expect(preview(page).getByText('Opening hours')).toBeVisible()
  await expect(page.getByText('“Opening hours” is code of somebody else: it runs in a frame of its own, for every visitor')).toBeVisible()
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.getByText('Edition 1 is live.').first()).toBeVisible()

  const visitor = await (await browser.newContext({ viewport: { width: 390, height: 780 } })).newPage()
  await visitor.goto(`${demo().url}/p/${slug}`)
  expect(await axe(visitor)).toEqual([])
  expect(await overflow(visitor)).toBe(0)
  const hours = visitor.frameLocator('iframe[title="Opening hours"]')
  await visitor.locator('iframe[title="Opening hours"]').scrollIntoViewIfNeeded()
  await expect(hours.getByText('Open from eight')).toBeVisible()
  await expect(hours.getByText('kept out')).toBeVisible()
  await expect.poll(async () => Number(await visitor.locator('iframe[title="Opening hours"]').getAttribute('height'))).toBeGreaterThan(333)
  expect(await visitor.locator('iframe[title="Counter"]').getAttribute('src')).toBeNull()
  await visitor.evaluate(() => (window as unknown as { cavlin: (what: string) => void }).cavlin('agree'))
  await visitor.locator('iframe[title="Counter"]').scrollIntoViewIfNeeded()
  await expect(visitor.frameLocator('iframe[title="Counter"]').getByText('Counted')).toBeVisible()
  expect(await axe(visitor)).toEqual([])
  const email = somebody('roof')
  await visitor.getByRole('radio', { name: 'A school or college' }).check()
  await visitor.getByRole('radio', { name: 'Over 200 m²' }).check()
  await visitor.getByLabel('First name').fill('Ida')
  await visitor.getByLabel('Last name').fill('Roof')
  await visitor.getByLabel('E-mail address').fill(email)
  await visitor.waitForTimeout(PERSON_MS)
  await visitor.getByRole('button', { name: 'Ask for a visit' }).click()
  await expect(visitor.getByRole('heading', { name: 'We are on our way' })).toBeVisible()
  expect(visitor.url()).toBe(`${demo().url}/p/${slug}/thanks`)
  expect(await axe(visitor)).toEqual([])
  await page.goto(`${demo().url}/capture/pages`)
  await expect(page.getByRole('row', { name }).getByRole('cell').nth(3)).toHaveText('1')
  await visitor.context().close()
})

test('two marketers on one page see each other, and neither loses what they wrote', async ({ page, browser }) => {
  const name = `Shared page ${Date.now()}`
  await signIn(page, 'tamsin', '/capture/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await page.getByLabel('What do you call it').fill(name)
  await page.keyboard.press('Enter')
  await expect(page.getByText('All saved')).toBeVisible()
  const other = await (await browser.newContext()).newPage()
  await signIn(other, 'orla', new URL(page.url()).pathname)
  await expect(page.getByText('Orla Penhaligon is here too.')).toBeVisible({ timeout: 15_000 })
  await preview(page).getByRole('textbox', { name: 'Text' }).first().fill('Mine')
  await other.getByRole('button', { name: 'Thanks' }).click()
  await other.getByLabel('Title', { exact: true }).fill('Theirs')
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByRole('button', { name: 'Thanks' }).click()
  await expect(page.getByLabel('Title', { exact: true })).toHaveValue('Theirs')
  await other.getByLabel('Storyboard').getByRole('button', { name: 'The page' }).click()
  await expect(preview(other).getByRole('heading', { level: 1 })).toHaveText('Mine')
  await other.context().close()
})

test('a file goes with an entry, a time is chosen, what was sent is corrected, and the owner has it all', async ({ page, browser }) => {
  const visitor = await (await browser.newContext({ viewport: { width: 390, height: 780 } })).newPage()
  await visitor.goto(`${demo().url}/p/plan-a-room`)
  await visitor.getByRole('radio', { name: 'A school or college' }).check()
  await visitor.getByLabel('Leaves and herbs').check()
  await visitor.getByRole('radio', { name: 'No', exact: true }).check()
  await visitor.getByRole('button', { name: 'Go on' }).click()
  const email = somebody('planner')
  await visitor
    .getByLabel('Do you have a plan or a photo')
    .setInputFiles({ name: 'notes.pdf', mimeType: 'application/pdf', buffer: Buffer.from('not a pdf') })
  await visitor.getByRole('button', { name: 'Go on' }).click()
  await visitor.getByLabel('First name').fill('Idda')
  await visitor.getByLabel('Last name').fill('Planner')
  await visitor.getByLabel('E-mail address').fill(email)
  await visitor.getByRole('button', { name: 'Ask for a drawing' }).click()
  // Back on the part with what is wrong; the others keep what was typed.
  await expect(visitor.getByText('“notes.pdf” cannot be taken.')).toBeVisible()
  await visitor
    .getByLabel('Do you have a plan or a photo')
    .setInputFiles({ name: 'south wall.jpg', mimeType: 'image/jpeg', buffer: readFileSync(PICTURE) })
  await visitor.getByRole('button', { name: 'Go on' }).click()
  await expect(visitor.getByLabel('First name')).toHaveValue('Idda')
  await visitor.waitForTimeout(PERSON_MS)
  await visitor.getByRole('button', { name: 'Ask for a drawing' }).click()
  await expect(visitor.getByText('The drawing comes by mail')).toBeVisible()
  expect(await axe(visitor)).toEqual([])

  const correct = visitor.getByRole('link', { name: 'Correct what you sent' })
  const address = await correct.getAttribute('href')
  await visitor.getByRole('link', { name: 'Choose a time' }).click()
  await expect(visitor.getByRole('heading', { name: /When shall .* meet you/ })).toBeVisible()
  expect(await axe(visitor)).toEqual([])
  expect(await overflow(visitor)).toBe(0)
  await visitor.getByRole('radio').first().check()
  await visitor.getByRole('button', { name: 'Take this time' }).click()
  await expect(visitor.getByRole('heading', { name: 'Agreed' })).toBeVisible()
  await visitor.goto(address!)
  await expect(visitor.getByLabel('First name')).toHaveValue('Idda')
  const stays = visitor.getByRole('listitem')
  await expect(stays.filter({ hasText: email })).toBeVisible()
  await expect(stays.filter({ hasText: 'south wall.jpg' })).toBeVisible()
  expect(await axe(visitor)).toEqual([])
  await visitor.getByLabel('First name').fill('Ida')
  await visitor.getByRole('button', { name: 'Keep the correction' }).click()
  await expect(visitor.getByRole('heading', { name: 'Corrected' })).toBeVisible()

  const {
    leads: [lead],
  } = await ask<{ leads: { id: string; firstName: string }[] }>(`/api/v1/leads?email=${email}`)
  expect(lead!.firstName).toBe('Ida')
  await signIn(page, 'mireille', `/follow-up/leads/${lead!.id}`)
  await expect(page.locator('.timeline')).toContainText('Corrected what they sent')
  await expect(page.locator('.timeline')).toContainText('Chose a time to meet')
  await expect(page.getByLabel('Follow-up')).toContainText('Meet Idda Planner')
  const got = await page.request.get(demo().url + (await page.getByRole('link', { name: 'south wall.jpg' }).getAttribute('href')))
  expect((await got.body()).equals(readFileSync(PICTURE))).toBe(true)
  expect(await axe(page)).toEqual([])
  await visitor.context().close()
})

test('questions are dragged where they stand in the form itself', async ({ page }) => {
  await signIn(page, 'tamsin', '/capture/points')
  await page.getByRole('button', { name: 'New form' }).click()
  await page.getByText('Ask for a price').click()
  await page.getByLabel('What do you call it').fill(`Dragged ${Date.now()}`)
  await page.keyboard.press('Enter')
  await expect(page.getByText('All saved')).toBeVisible()
  const order = () =>
    preview(page)
      .locator('[data-question]')
      .evaluateAll(list => list.map(b => (b as HTMLElement).dataset.question))
  const before = await order()
  await preview(page).locator('[data-question=by]').hover()
  await drag(page, preview(page).locator('[data-question=by] > .held-by'), preview(page).locator('[data-question=for]'))
  await expect.poll(order).toEqual(['by', ...before.filter(k => k !== 'by')])
  await expect(page.locator('.questions > li').first()).toContainText('When do you need it?')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(order).toEqual(before)
  // A finger does it as well; there is nothing to hover over.
  await drag(page, preview(page).locator('[data-question=by] > .held-by'), preview(page).locator('[data-question=for]'), 'finger')
  await expect.poll(order).toEqual(['by', ...before.filter(k => k !== 'by')])
})

test('what comes next, who is who, and how it looks: as the marketer clicks it, so the visitor finds it', async ({ page, browser }) => {
  const name = `All of it ${Date.now()}`
  const choose = async (field: string, option: string | RegExp) => {
    await page.getByRole('combobox', { name: field, exact: true }).click()
    await page.getByRole('option', { name: option }).click()
  }
  await signIn(page, 'tamsin', '/capture/points')
  await page.getByRole('button', { name: 'New form' }).click()
  await page.getByRole('radiogroup', { name: 'What it begins with' }).getByText('Call me back').click()
  await page.getByLabel('What do you call it').fill(name)
  await page.keyboard.press('Enter')
  await expect(page.getByText('All saved')).toBeVisible()

  // Thanks: a file to take along, and a way back to what was sent.
  await page.getByRole('button', { name: 'Thanks', exact: true }).click()
  await choose('Then visitors', 'Download a file')
  await expect(page.getByText('The file to download is missing.')).toBeVisible()
  await page.getByRole('button', { name: 'File to download: choose' }).click()
  await page.getByRole('button', { name: /price-guide\.pdf/ }).click()
  await page.getByText('Correct what they sent').click()
  await expect(preview(page).getByRole('link', { name: 'Download price-guide.pdf' })).toBeVisible()

  // By mail: a link that is followed or not, and one more for who did not.
  await page.getByRole('button', { name: 'By mail' }).click()
  await page.getByRole('button', { name: 'Add a mail' }).click()
  await choose('Its link leads to', 'An address')
  await page.getByLabel('Address', { exact: true }).fill('https://larkmoss.example/prices')
  await expect(page.getByRole('textbox', { name: 'Text of mail 1' })).toContainText('The link of this mail')
  await page.getByRole('button', { name: 'Add a mail' }).click()
  await page.getByText('Only to those who have not followed').click()

  // What we do: a list that is made on the way, and people known by their number.
  await page.getByRole('button', { name: 'What we do' }).click()
  await page.locator('.inside .p-multiselect').first().click()
  const list = `Callers ${Date.now()}`
  await page.getByLabel('Name of a new list').fill(list)
  await page.getByRole('button', { name: 'Make it', exact: true }).click()
  await expect(page.locator('.inside')).toContainText(list)
  await page.keyboard.press('Escape')
  await choose('The same person has the same', 'Phone')

  // Look: a shipped font, a quiet ground, a logo.
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  await page.getByText('Bookish', { exact: true }).click()
  await page.getByText('Furrows', { exact: true }).click()
  await page.getByRole('button', { name: 'Logo: choose' }).click()
  await page.getByRole('button', { name: /larkmoss\.png/ }).click()
  await page.getByLabel('It says').fill('Larkmoss')
  await expect(page.getByText('All saved')).toBeVisible()
  await page.reload()
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.getByText('Edition 1 is live.').first()).toBeVisible()
  await page.getByRole('button', { name: 'Where it stands' }).click()
  const tag = await page.locator('[data-way=tag]').innerText()
  await page.getByRole('button', { name: 'Plain HTML' }).click()
  const plain = await page.locator('[data-way=plain]').innerText()

  const visitor = await (await browser.newContext()).newPage()
  const fonts: string[] = []
  visitor.on('response', answer => answer.url().includes('/w/fonts/') && answer.ok() && fonts.push(answer.url()))
  const theirs = await otherSite(`<!doctype html><html lang="en"><title>Theirs</title><main><h1>Theirs</h1>${tag}</main>`)
  await visitor.goto(theirs.url)
  await expect(visitor.getByRole('img', { name: 'Larkmoss' })).toBeVisible()
  expect(await visitor.getByRole('img', { name: 'Larkmoss' }).evaluate(i => (i as HTMLImageElement).naturalWidth)).toBeGreaterThan(0)
  await expect.poll(() => fonts.length).toBeGreaterThan(0)
  expect(await visitor.locator('form.cv').evaluate(f => getComputedStyle(f).backgroundImage)).toContain('repeating-linear-gradient')
  expect(await axe(visitor)).toEqual([])
  const email = somebody('caller')
  const tel = `06 ${String(Date.now()).slice(-8)}`
  await visitor.getByRole('radio', { name: 'Around noon' }).check()
  await visitor.getByLabel('First name').fill('Ida')
  await visitor.getByLabel('E-mail address').fill(email)
  await visitor.getByLabel('Phone number').fill(tel)
  await visitor.getByRole('button', { name: 'Call me' }).click()
  const file = visitor.getByRole('link', { name: 'Download price-guide.pdf' })
  await expect(file).toBeVisible()
  expect((await visitor.request.get((await file.getAttribute('href'))!)).headers()['content-type']).toBe('application/pdf')
  theirs.close()

  // The plain copy looks the same without any script, and the same number is the same person.
  const copy = await otherSite(`<!doctype html><html lang="en"><title>Plain</title><main><h1>Plain</h1>${plain}</main>`)
  await visitor.goto(copy.url)
  expect(await visitor.getByRole('img', { name: 'Larkmoss' }).evaluate(i => (i as HTMLImageElement).naturalWidth)).toBeGreaterThan(0)
  await visitor.getByRole('radio', { name: 'Around noon' }).check()
  await visitor.getByLabel('First name').fill('Ida')
  await visitor.getByLabel('E-mail address').fill(somebody('other'))
  await visitor.getByLabel('Phone number').fill(tel)
  await visitor.getByRole('button', { name: 'Call me' }).click()
  await expect(visitor.getByText('We call at the time you chose.')).toBeVisible()
  copy.close()
  const { leads } = await ask<{ leads: { id: string; email: string }[] }>(
    `/api/v1/leads?search=${encodeURIComponent(`+33${tel.replace(/ /g, '').slice(1)}`)}`,
  )
  expect(leads.map(l => l.email)).toEqual([email])

  // A link for this person alone opens a form that knows them.
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await signIn(page, 'mireille', `/follow-up/leads/${leads[0]!.id}`)
  await expect(page.getByLabel('What we know').getByText(list)).toBeVisible()
  await page.getByRole('button', { name: 'Personal link' }).click()
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: `Copy the link to ${name}` }).click()
  await visitor.goto(await page.evaluate(() => navigator.clipboard.readText()))
  await expect(visitor.getByLabel('E-mail address')).toHaveValue(email)
  await expect(visitor.getByLabel('First name')).toHaveValue('Ida')
  await visitor.context().close()
})
