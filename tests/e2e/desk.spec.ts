import type { Page } from '@playwright/test'
import { expect, test } from '../support/test'
import { demo, eventually, mails, send, signedIn, somebody } from '../support/house'
import { axe, signIn } from '../support/pages'

/** Somebody whom Mireille looks after. */
async function hers(word: string): Promise<{ id: string; name: string; email: string }> {
  const email = somebody(word)
  expect(
    (
      await send('form_visit', {
        email,
        first_name: word,
        last_name: 'Fennimore',
        company: 'Fennimore Academy',
        sector: 'school',
        size: 'large',
      })
    ).status,
  ).toBe(201)
  const mireille = await signedIn('mireille')
  const { members } = (await (await mireille('/api/team/house')).json()) as { members: { id: string; name: string }[] }
  const id = await eventually(
    async () => ((await (await mireille(`/api/team/leads?search=${email}`)).json()) as { leads: { id: string }[] }).leads[0]?.id,
  )
  await mireille(`/api/team/leads/${id}/owner`, 'PUT', { owner: members.find(m => m.name.startsWith('Mireille'))!.id })
  return { id, name: `${word} Fennimore`, email }
}
/** The way back of what was done last. */
const takeBack = (page: Page) => page.getByRole('button', { name: 'Take it back' }).last()
const word = (begin: string) => `${begin}${Date.now().toString(36)}`

test('a note names a colleague by keyboard, who is told, and is changed, removed and brought back', async ({ page, browser }) => {
  const lead = await hers(word('Nan'))
  await signIn(page, 'mireille', `/follow-up/leads/${lead.id}`)
  const note = page.getByRole('textbox', { name: 'Note' })
  await note.fill('The roof? ')
  await note.pressSequentially('@jon')
  await expect(page.getByRole('option', { name: 'Jonah Birkett' })).toBeVisible()
  expect(await axe(page)).toEqual([])
  await page.keyboard.press('Enter')
  await expect(note).toHaveValue('The roof? @Jonah Birkett ')
  await page.keyboard.press('Control+Enter')
  const line = page.locator('li.note').first()
  await expect(line.locator('b', { hasText: '@Jonah Birkett' })).toBeVisible()
  const jonah = await (await browser.newContext()).newPage()
  await signIn(jonah, 'jonah')
  await jonah.getByRole('button', { name: /^Bell/ }).click()
  await expect(jonah.getByRole('link', { name: new RegExp(`mentions you: ${lead.name}`) })).toBeVisible()
  await line.getByRole('button', { name: 'Change' }).click()
  await page.getByRole('textbox', { name: 'Change the note' }).fill('The floor?')
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(line.locator('.said')).toHaveText('The floor?')
  await line.getByText(/^Changed/).click()
  await expect(line.getByText('The roof? @Jonah Birkett')).toBeVisible()
  await line.getByRole('button', { name: 'Remove' }).click()
  await expect(line.getByText(/^Removed/)).toBeVisible()
  await takeBack(page).click()
  await expect(line.locator('.said')).toHaveText('The floor?')
  // Others read it, and that is all.
  await jonah.goto(`${demo().url}/follow-up/leads/${lead.id}`)
  await expect(jonah.locator('li.note').first()).toContainText('The floor?')
  await expect(jonah.locator('li.note').getByRole('button', { name: 'Change' })).toHaveCount(0)
})

test('a mail begins with a ready text, takes a file, and the link in a mail takes the lead', async ({ page, browser }) => {
  const lead = await hers(word('Mae'))
  await signIn(page, 'mireille', `/follow-up/leads/${lead.id}`)
  await page.getByRole('button', { name: 'Write a mail …' }).click()
  await page.getByRole('combobox', { name: 'Begin with a ready text' }).click()
  await page.getByRole('option', { name: 'After a visit' }).click()
  await expect(page.getByLabel('About')).toHaveValue('Your site, Fennimore Academy')
  await expect(page.getByRole('textbox', { name: 'Text' })).toHaveValue(
    new RegExp(`^Hello ${lead.name.split(' ')[0]},[^]*Mireille Vauclair`),
  )
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: 'Mail: add a file' }).click()])
  await chooser.setFiles({ name: 'measures.txt', mimeType: 'text/plain', buffer: Buffer.from('Twelve by four.') })
  await expect(page.getByText('measures.txt')).toBeVisible()
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'Send it' }).click()
  const mail = await eventually(async () => (await mails()).find(m => m.to === lead.email && m.subject === 'Your site, Fennimore Academy'))
  expect(mail.attachments!.map(a => a.name)).toEqual(['measures.txt'])
  const jonah = await (await browser.newContext()).newPage()
  await signIn(jonah, 'jonah', `/follow-up/leads/${lead.id}?take=yes`)
  await expect(jonah.getByText(`${lead.name} is yours now`)).toBeVisible()
  await expect(jonah).toHaveURL(new RegExp(`${lead.id}$`))
  await expect(jonah.getByRole('combobox', { name: 'Owner' })).toHaveText(/Jonah/)
})

test('the table is changed where it stands, and kept as a view with its columns', async ({ page }) => {
  const lead = await hers(word('Tab'))
  await signIn(page, 'mireille', `/follow-up?search=${lead.email}`)
  await page.getByRole('button', { name: `Change the status of ${lead.name}: Untouched` }).click()
  await page.getByRole('option', { name: 'In talks' }).click()
  await expect(page.getByRole('button', { name: `Change the status of ${lead.name}: In talks` })).toBeVisible()
  await takeBack(page).click()
  await expect(page.getByRole('button', { name: `Change the status of ${lead.name}: Untouched` })).toBeVisible()
  await page.getByRole('button', { name: `Change Company of ${lead.name}: Fennimore Academy` }).click()
  await page.getByRole('textbox', { name: `Company of ${lead.name}` }).fill('Fennimore School')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: `Change Company of ${lead.name}: Fennimore School` })).toBeVisible()
  await page.getByRole('button', { name: 'Columns …' }).click()
  await page.getByRole('button', { name: 'Take out Waiting' }).click()
  await page.getByRole('combobox', { name: 'Add a column' }).click()
  await page.getByRole('option', { name: 'Sector' }).click()
  expect(await axe(page)).toEqual([])
  await page.keyboard.press('Escape')
  await expect(page.getByRole('columnheader', { name: 'Sector' })).toBeVisible()
  await page.getByRole('button', { name: 'Keep this view …' }).click()
  const name = word('View ')
  await page.getByLabel('Name', { exact: true }).fill(name)
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByRole('button', { name: 'Remove the view' })).toBeVisible()
  await page.goto(`${demo().url}/follow-up`)
  await page.getByRole('combobox', { name: 'Kept views' }).click()
  await page.getByRole('option', { name, exact: true }).click()
  await expect(page.getByRole('columnheader', { name: 'Sector' })).toBeVisible()
  await expect(page.getByRole('link', { name: lead.name })).toBeVisible()
  await page.getByRole('button', { name: 'Remove the view' }).click()
})

test('a lead is handed over with a word, sent back with a reason, and both are taken back', async ({ page }) => {
  const lead = await hers(word('Han'))
  await signIn(page, 'mireille', `/follow-up/leads/${lead.id}`)
  await page.getByRole('button', { name: 'Hand over …' }).click()
  await page.getByRole('dialog').getByRole('combobox').first().click()
  await page.getByRole('option', { name: 'Desmond Oyelaran-Pike' }).click()
  await page.getByRole('dialog').getByRole('textbox').first().fill('You built for their neighbours.')
  await page.getByRole('dialog').getByRole('button', { name: /^Hand/ }).click()
  await expect(page.getByRole('combobox', { name: 'Owner' })).toHaveText(/Desmond/)
  await takeBack(page).click()
  await expect(page.getByRole('combobox', { name: 'Owner' })).toHaveText(/Mireille/)
  await page.getByRole('button', { name: 'Send back …' }).click()
  await expect(page.getByRole('button', { name: 'Send them back' })).toBeDisabled()
  await page.getByRole('radio', { name: 'Too early to talk' }).click()
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'Send them back' }).click()
  await expect(page.getByText('sent them back: Too early to talk')).toBeVisible()
  await takeBack(page).click()
  await expect(page.getByRole('combobox', { name: 'Owner' })).toHaveText(/Mireille/)
})

test('open leads are handed on by turns from one screen, and come back', async ({ page }) => {
  const lead = await hers(word('Ono'))
  await signIn(page, 'ansel', '/route/people')
  const id = ((await (await page.request.get(`${demo().url}/api/team/leads/${lead.id}`)).json()) as { lead: { owner: { id: string } } })
    .lead.owner.id
  await page.goto(`${demo().url}/route/hand-on?of=${id}`)
  const row = page.getByRole('listitem').filter({ hasText: lead.name })
  await expect(row).toBeVisible()
  for (const group of await page.getByRole('button', { name: /: all or none$/ }).all())
    if ((await group.innerText()) === 'None of them') await group.click()
  await expect(page.getByRole('button', { name: 'Hand on 0 leads' })).toBeDisabled()
  await row.getByRole('checkbox').check()
  await page.locator('.to .p-multiselect').click()
  await page.getByRole('option', { name: 'Jonah Birkett' }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Hand on 1 lead' }).click()
  await expect(page.getByText('1 lead goes to')).toBeVisible()
  await expect(row).toHaveCount(0)
  await takeBack(page).click()
  await expect(row).toBeVisible()
})

test('axe finds nothing with lists, filters and a calendar open', async ({ page }) => {
  const lead = await hers(word('Axe'))
  await signIn(page, 'mireille', '/follow-up')
  await page.locator('.filters .p-multiselect').first().click()
  await expect(page.getByRole('option').first()).toBeVisible()
  expect.soft(['filter', await axe(page)]).toEqual(['filter', []])
  await page.goto(`${demo().url}/follow-up/leads/${lead.id}`)
  await page.getByRole('combobox', { name: 'Status' }).click()
  await expect(page.getByRole('option').first()).toBeVisible()
  expect.soft(['status', await axe(page)]).toEqual(['status', []])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Set one' }).click()
  await page.getByRole('combobox', { name: 'Due' }).click()
  await expect(page.getByRole('grid')).toBeVisible()
  expect.soft(['calendar', await axe(page)]).toEqual(['calendar', []])
})
