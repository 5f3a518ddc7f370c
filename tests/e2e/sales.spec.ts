import { expect, test } from '../support/test'
import { ask, demo, eventually, mails, send, somebody } from '../support/house'
import { signIn } from '../support/pages'

const visit = (email: string, first: string, more: object = {}) => ({
  email,
  first_name: first,
  last_name: 'Thistlewood',
  company: `${first} Academy`,
  sector: 'school',
  size: 'large',
  timing: 'this_season',
  ...more,
})
const ownerOf = async (email: string) =>
  (await ask<{ leads: { id: string; owner: { name: string; email: string } }[] }>(`/api/v1/leads?email=${email}`)).leads[0]!

test('signs in with a click as somebody of the demo, and out again', async ({ page }) => {
  await page.goto(`${demo().url}/follow-up`)
  await expect(page).toHaveURL(/\/sign-in\?to=/)
  await page.getByLabel('E-mail address').fill('jonah@larkmoss.example')
  await page.getByLabel('Password').fill('wrong')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('do not go together')
  await page.getByRole('button', { name: /Mireille Vauclair/ }).click()
  await expect(page.getByRole('heading', { name: 'Leads' })).toBeVisible()
  await page
    .getByRole('banner')
    .getByRole('button', { name: /Mireille Vauclair/ })
    .click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page).toHaveURL(/\/sign-in$/)
  await page.goto(demo().url)
  await expect(page).toHaveURL(/\/sign-in/)
})

/** What the bell says of so many that were not seen; whoever waits in a chat is said behind it. */
const said = (unread: number) => new RegExp(unread ? `^Bell, ${unread} not seen(,|$)` : '^Bell, nothing new(,|$)')

test('an entry stands on the owner’s open screen, the bell counts it, and a mail says who it is', async ({ page }) => {
  await page.goto(demo().url)
  // Of five schools Mireille gets three and Desmond two, never two in a row: after him it is her turn.
  const email = somebody('live')
  for (let probes = 0, last = ''; !last.startsWith('desmond'); probes++) {
    expect(probes).toBeLessThan(4)
    const probe = somebody('probe')
    await send('form_visit', visit(probe, 'Probe'))
    last = (await ownerOf(probe)).owner.email
  }
  // The first in the list lies open, so what was new about them is seen: only then is the bell at rest.
  const seen = page.waitForResponse(r => r.url().endsWith('/api/team/bell') && r.request().method() === 'POST')
  await signIn(page, 'mireille')
  await seen
  await expect(page.getByRole('heading', { level: 1 })).toContainText('waiting')
  const bell = page.getByRole('button', { name: /^Bell/ })
  const { unread } = (await (await page.request.get(`${demo().url}/api/team/bell`)).json()) as { unread: number }
  await expect(bell).toHaveAccessibleName(said(unread))
  const wait = page.locator('.course').getByText('wait for you').locator('..')
  const waiting = Number((await wait.innerText()).match(/\d+/)![0])
  await send('form_visit', visit(email, 'Sorrel'))
  await expect(page.getByRole('link', { name: /Sorrel Thistlewood/ })).toBeVisible()
  await expect(bell).toHaveAccessibleName(said(unread + 1))
  await expect(wait).toContainText(String(waiting + 1))
  await bell.click()
  await page.getByRole('link', { name: /Sorrel Thistlewood, Sorrel Academy: Ask for a site visit/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Sorrel Thistlewood')
  await expect(page.getByRole('button', { name: said(unread) })).toBeVisible()
  const mail = await eventually(async () => (await mails()).find(m => m.text.includes(email)))
  expect([mail.to, mail.subject]).toEqual([
    'mireille@larkmoss.example',
    'Sorrel Thistlewood, Sorrel Academy: Ask for a site visit (A school or college)',
  ])
})

test('what one does about a lead, a colleague sees without a reload', async ({ page, browser }) => {
  const email = somebody('two')
  await send('form_visit', visit(email, 'Perrin'))
  const lead = await ownerOf(email)
  await signIn(page, 'jonah', `/follow-up/leads/${lead.id}`)
  const second = await (await browser.newContext()).newPage()
  await signIn(second, 'mireille', `/follow-up/leads/${lead.id}`)
  await expect(second.getByRole('heading', { level: 1 })).toHaveText('Perrin Thistlewood')

  await page.getByRole('button', { name: 'Take over' }).click()
  await expect(second.getByText('Jonah Birkett gave it to Jonah Birkett')).toBeVisible()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByRole('button', { name: 'Take over' })).toBeVisible()

  await page.locator('body').press('e')
  await page.getByRole('option', { name: 'In talks' }).click()
  await expect(second.getByText(/Jonah Birkett set In talks/)).toBeVisible()
  await expect(second.getByRole('combobox', { name: 'Status' })).toContainText('In talks')
  // What a colleague has gone on from is not taken back from under them.
  const set = (status: string) => second.request.put(`${demo().url}/api/team/leads/${lead.id}/status`, { data: { status } })
  expect((await set('reaching_out')).status()).toBe(200)
  await page.locator('.said', { hasText: 'In talks' }).getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByText('Somebody went on from there')).toBeVisible()
  expect((await set('in_talks')).status()).toBe(200)

  await page.getByRole('heading', { level: 1 }).click()
  await page.keyboard.press('n')
  await page.keyboard.type('They said <b>yes</b> & want "glass"')
  await page.keyboard.press('Control+Enter')
  await expect(second.getByText('They said <b>yes</b> & want "glass"')).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('')

  await page.getByRole('heading', { level: 1 }).click()
  await page.keyboard.press('s')
  await page.getByRole('textbox', { name: 'Next step' }).fill('Send the drawings')
  await page.getByRole('button', { name: 'In a week' }).click()
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(second.locator('.step').getByText('Send the drawings')).toBeVisible()
  await page.getByRole('button', { name: 'Done' }).click()
  await page.getByLabel('What came of it').fill('They have them')
  await page.keyboard.press('Enter')
  await expect(second.getByText('Jonah Birkett did “Send the drawings”: They have them')).toBeVisible()
  await page.locator('.said', { hasText: 'Done: Send the drawings' }).getByRole('button', { name: 'Take it back' }).click()
  await expect(page.locator('.step').getByText('Send the drawings')).toBeVisible()
  const api = await ask<{ status: string; nextStep: { text: string } }>(`/api/v1/leads/${lead.id}`)
  expect([api.status, api.nextStep.text]).toEqual(['in_talks', 'Send the drawings'])
  await second.context().close()
})

test('asked why, a lead gives lines that add up', async ({ page }) => {
  const email = somebody('why')
  await send('form_visit', visit(email, 'Wren'))
  await signIn(page, 'jonah', `/follow-up/leads/${(await ownerOf(email)).id}`)
  await page.getByRole('button', { name: 'Why?' }).click()
  const why = page.getByRole('region', { name: 'Why this score, label and owner' })
  for (const axis of ['Fit', 'Interest']) {
    const numbers = (await why.getByRole('table', { name: axis }).locator('td.n').allInnerTexts()).map(t => Number(t.match(/-?\d+$/)![0]))
    expect(numbers.slice(0, -1).reduce((a, b) => a + b, 0)).toBe(numbers.at(-1))
  }
  await expect(why).toContainText('Marketing qualified asks for a fit of 35 and an interest of 24. Here: 90 and 30.')
  await expect(why).toContainText('lane “Schools and councils”')
})

test('the table of leads filters, sorts and pages in the database, and its address holds the view', async ({ page }) => {
  await signIn(page, 'orla', '/follow-up')
  const rows = page.locator('.leads tbody tr')
  await expect(rows).toHaveCount(25)
  const firstPage = await rows.first().innerText()
  await page.getByRole('button', { name: 'Next Page' }).click()
  await expect(rows.first()).not.toHaveText(firstPage)
  await page.getByRole('columnheader', { name: 'Fit' }).click()
  await expect(page).toHaveURL(/sort=fit/)
  await expect
    .poll(async () => {
      const fits = (await page.locator('.leads tbody tr td:nth-child(5)').allInnerTexts()).map(Number)
      return fits.length === 25 && fits[0]! < 0 && fits.every((fit, i) => i === 0 || fits[i - 1]! <= fit)
    })
    .toBe(true)
  await page.locator('.filters .p-multiselect').first().click()
  await page.getByRole('option', { name: 'Sales ready' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('status').filter({ hasText: /fit/ })).toBeVisible()
  await expect
    .poll(async () => new Set(await page.locator('.leads tbody tr td:nth-child(4)').allInnerTexts()))
    .toEqual(new Set(['Sales ready']))
  await page.reload()
  await expect
    .poll(async () => new Set(await page.locator('.leads tbody tr td:nth-child(4)').allInnerTexts()))
    .toEqual(new Set(['Sales ready']))
  await page.getByLabel('Search the leads').fill('no such body 100%')
  await expect(page.getByText('Nobody fits these filters.')).toBeVisible()
  await page.getByRole('button', { name: 'Show all' }).click()
  await expect(rows).toHaveCount(25)
})

test('works by keyboard: stages, lists, search', async ({ page }) => {
  await signIn(page, 'jonah', '/follow-up')
  await expect(page.locator('.leads tbody tr')).toHaveCount(25)
  await page.keyboard.press('j')
  await page.keyboard.press('j')
  const name = await page.locator('tr.at a').innerText()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(name)
  for (const [key, heading] of [
    ['1', 'Places'],
    ['2', 'Scorecard'],
    ['3', 'Routing plan'],
    ['4', 'Leads'],
    ['5', 'What became of them'],
    ['0', /waiting/],
  ] as const) {
    await page.keyboard.press(key)
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(heading)
  }
  const email = somebody('findme')
  await send('form_journal', { email, first_name: 'Findme' })
  await page.keyboard.press('/')
  await page.keyboard.type(email.slice(0, 14))
  await expect(page.getByRole('option').first()).toContainText('Findme')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Findme')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
})

test('what is typed right after the key for searching is searched for, however slowly the dialog comes', async ({ page }) => {
  await signIn(page, 'jonah', '/')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/waiting/)
  // What has not been loaded yet takes its time.
  await page.route('**/_nuxt/*.js', async route => {
    await new Promise(done => setTimeout(done, 800))
    await route.continue()
  })
  await page.keyboard.press('/')
  await page.keyboard.type('e5snx')
  await expect(page.getByLabel('Name, company or address')).toHaveValue('e5snx')
  await page.keyboard.type('!')
  await expect(page.getByLabel('Name, company or address')).toHaveValue('e5snx!')
  await expect(page).toHaveURL(/\/$/)
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.keyboard.press('2')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Scorecard')
})

test('an address of nobody says so', async ({ page }) => {
  await signIn(page, 'jonah', '/follow-up/leads/01a20b97-e822-7000-8009-1614ceec67cd')
  await expect(page.getByRole('alert')).toContainText('There is no such lead')
})
