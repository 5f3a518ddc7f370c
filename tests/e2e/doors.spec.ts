import { expect, test } from '../support/test'
import { ask, demo, eventually, member, readDatabase, send, somebody } from '../support/house'
import { axe, otherSite, outside, overflow, signIn } from '../support/pages'

const PERSON_MS = 800

test('a colleague sees that an address is only claimed, and says whose it is', async ({ page }) => {
  const phone = `+3363998${String(Date.now()).slice(-4)}`
  const email = somebody('claim')
  await send('form_call', { first_name: 'Cressida', phone })
  await send('form_call', { first_name: 'Cressida', phone, email })
  const {
    leads: [lead],
  } = await ask<{ leads: { id: string; email: string | null }[] }>(`/api/v1/leads?search=${encodeURIComponent(phone)}`)
  expect(lead!.email).toBeNull()
  await signIn(page, 'jonah', `/follow-up/leads/${lead!.id}`)
  const claims = page.getByRole('region', { name: 'Addresses to judge' })
  await expect(claims).toContainText(`Somebody gave ${email} in their name`)
  await expect(claims).toContainText('do not write to it')
  await expect(page.getByRole('link', { name: email })).toHaveCount(0)
  expect(await axe(page)).toEqual([])
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 })
    expect([width, await overflow(page), await outside(page)]).toEqual([width, 0, []])
  }
  await page.setViewportSize({ width: 1280, height: 800 })
  await claims.getByRole('button', { name: `${email} is theirs` }).click()
  await expect(page.getByRole('link', { name: email })).toBeVisible()
  await expect(claims).toHaveCount(0)
  await expect(page.getByText(`found out that ${email} is theirs`)).toBeVisible()
})

test('two addresses that were confirmed for one person stand among what is set aside, for a person to judge', async ({ page }) => {
  const phone = `+3363997${String(Date.now()).slice(-4)}`
  const [one, two] = [somebody('one'), somebody('two')]
  for (const email of [one, two]) await send('form_call', { first_name: 'Damaris', phone, email })
  const {
    leads: [lead],
  } = await ask<{ leads: { id: string }[] }>(`/api/v1/leads?search=${encodeURIComponent(phone)}`)
  // The first made the person; the second is claimed, and somebody who reads it says that it is theirs.
  await readDatabase(sql => sql`update claimed_address set confirmed_at = now() where lead_id = ${lead!.id} and address = ${two}`)
  await signIn(page, 'tamsin', '/qualify/review')
  const row = page.getByRole('listitem').filter({ hasText: two })
  await row.getByRole('link').click()
  await expect(page.getByRole('region', { name: 'The address' })).toContainText(`They have ${one} already.`)
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'It is not theirs' }).click()
  await expect(row).toHaveCount(0)
})

test('signing out in one window, or being taken out, leads all others to the sign-in', async ({ page, context }) => {
  await signIn(page, 'jonah')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  const other = await context.newPage()
  await other.goto(`${demo().url}/follow-up`)
  await expect(other.getByRole('heading', { level: 1 })).toBeVisible()
  await page.getByRole('button', { name: /Jonah/ }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('button', { name: /Orla/ })).toBeVisible()
  await expect(other.getByRole('button', { name: /Orla/ })).toBeVisible({ timeout: 10_000 })
})

test('an admin sees what a mail server refused, in its words, and tries it again', async ({ page }) => {
  const email = `nobody-${Date.now()}@lane.example`
  expect((await send('form_journal', { email })).status).toBe(201)
  await signIn(page, 'orla')
  await page.getByRole('button', { name: `${member('orla').name}, admin` }).click()
  await page.getByRole('button', { name: 'Deliveries' }).click()
  await expect(page.getByText('The worker is at work.')).toBeVisible()
  await page.getByRole('link', { name: /given up/ }).click()
  const row = page.getByRole('row', { name: email })
  await expect(row).toContainText('“550 There is no such mailbox”')
  expect(await axe(page)).toEqual([])
  const first = await row.getByText('550').textContent()
  await row.getByRole('button', { name: 'Try again' }).click()
  await expect(page.getByText('is tried again')).toBeVisible()
  await expect(row).toContainText('550')
  await page.getByRole('link', { name: /sent/ }).click()
  await expect(page.getByText('taken in').first()).toBeVisible()
  await expect(page.getByRole('cell', { name: email, exact: true })).toHaveCount(0)
  expect(first).toContain('the mail server refused it for good')
  // Whoever is no admin learns who is.
  await signIn(page, 'tamsin', '/settings/deliveries')
  await expect(page.getByRole('alert')).toContainText('admin')
})

test('an admin makes a key for one thing and a month, and sees colleagues; a password is changed only with the present one', async ({
  page,
}) => {
  await signIn(page, 'orla', '/settings/keys')
  const name = `Stock list ${Date.now()}`
  await page.getByLabel('What will use it?').fill(name)
  await page.getByLabel('Read leads and their answers').uncheck()
  await expect(page.getByRole('button', { name: 'Make a key' })).toBeDisabled()
  await page.getByLabel('Add events that happened elsewhere').check()
  await page.getByRole('combobox', { name: 'It works' }).click()
  await page.getByRole('option', { name: 'for 30 days' }).click()
  await page.getByRole('button', { name: 'Make a key' }).click()
  const key = (await page.locator('pre').textContent())!
  await expect(page.getByRole('row', { name })).toContainText('Add events that happened elsewhere')
  const status = (path: string, init: RequestInit = {}) =>
    fetch(demo().url + path, { ...init, headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' } }).then(
      r => r.status,
    )
  expect([await status('/api/v1/leads'), await status('/api/v1/events', { method: 'POST', body: '{}' })]).toEqual([403, 422])

  await page.goto(`${demo().url}/settings/colleagues`)
  await expect(page.getByRole('row', { name: new RegExp(member('tamsin').name) })).toContainText('Marketer')
  // Whoever is the only admin stays it.
  await page.getByRole('button', { name: `Take out ${member('orla').name}` }).click()
  await expect(page.getByText('Somebody has to be admin')).toBeVisible()

  await page.getByRole('button', { name: `${member('orla').name}, admin` }).click()
  await page.getByRole('button', { name: 'Change the password' }).click()
  await page.getByLabel('Present password').fill('not this')
  await page.getByLabel('New password').fill('three or four words')
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'Change it' }).click()
  await expect(page.getByRole('dialog').getByRole('alert')).toHaveText('This is not your present password.')
})

test('a form on a site keeps what was typed while we cannot be reached, and sends it by itself, once', async ({ page }) => {
  const key = demo().points.find(p => p.slug === 'journal')!.key
  const site = await otherSite(
    `<!doctype html><title>A site</title><body><script async src="${demo().url}/w/cavlin.js" data-point="${key}"></script></body>`,
  )
  let refused = 0
  await page.route('**/entries', async route => {
    if (++refused === 1)
      return route.fulfill({
        status: 503,
        headers: { 'retry-after': '5', 'access-control-allow-origin': '*' },
        contentType: 'application/problem+json',
        body: '{"detail":"away"}',
      })
    if (refused === 2) return route.abort()
    // It arrives, and the answer is lost on its way.
    if (refused === 3) {
      await route.fetch()
      return route.abort()
    }
    await route.continue()
  })
  await page.goto(site.url)
  const email = somebody('insists')
  await page.getByLabel('E-mail address').fill(email)
  await page.waitForTimeout(PERSON_MS)
  await page.getByRole('button', { name: 'Send me the journal' }).click()
  await expect(page.getByText('sent again by themselves')).toBeVisible()
  await expect(page.locator('.cv-thanks')).toBeVisible({ timeout: 20_000 })
  expect(refused).toBe(4)
  await eventually(async () => (await ask<{ leads: object[] }>(`/api/v1/leads?email=${email}`)).leads.length === 1)
  const [row] = await readDatabase(
    sql => sql<{ n: number }[]>`select count(*)::int as n from entry e join lead l on l.id = e.lead_id where l.email = ${email}`,
  )
  expect(row!.n).toBe(1)
  site.close()
})
