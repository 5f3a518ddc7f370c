import { expect, test } from '../support/test'
import { form } from '../support/forms'
import { demo } from '../support/house'
import { axe, signIn } from '../support/pages'

test('gives a form an address under a name of the firm’s own, and sees it led there', async ({ page, context }) => {
  // Browsers look up whatever ends in .localhost on this very computer.
  const name = `hello-${Date.now()}.localhost`
  const f = await form(() => {})
  await signIn(page, 'tamsin', '/settings/site')
  await page.getByLabel('A further name').fill('hello there')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText('Write a name like hello.firm.example')).toBeVisible()
  await page.getByLabel('A further name').fill(`http://${name}/`)
  await page.keyboard.press('Enter')
  const row = page.getByRole('listitem').filter({ hasText: name })
  await expect(row).toContainText('Nobody has come under it yet')

  const [tried] = await Promise.all([context.waitForEvent('page'), row.getByRole('link', { name: 'Try it' }).click()])
  await expect(tried.getByRole('heading', { name: `${name} leads here` })).toBeVisible()
  await tried.close()
  await expect(row).toContainText('It leads here')
  // What lies half under the bar at the top would count as too small to be hit.
  await page.evaluate(() => window.scrollTo(0, 0))
  expect(await axe(page)).toEqual([])

  await page.goto(`${demo().url}/capture/points/${f.id}?frame=where`)
  await page.getByRole('group', { name: 'How it gets onto a page' }).getByRole('button', { name: 'Page of its own' }).click()
  await page.getByRole('combobox', { name: 'Under which name' }).click()
  await page.getByRole('option', { name }).click()
  const address = `http://${name}:${new URL(demo().url).port}/p/${f.slug}`
  await expect(page.locator('pre')).toHaveText(address)

  const visitor = await context.newPage()
  await visitor.goto(`${demo().url}/p/${f.slug}`)
  await expect(visitor).toHaveURL(address)
  await visitor.locator('input[type=email]').fill('via.name@guests.example')
  await visitor.getByRole('button', { name: /send/i }).click()
  await expect(visitor.locator('.cv-thanks')).toBeVisible()

  await page.goto(`${demo().url}/settings/site`)
  await expect(row.getByRole('button', { name: 'Take' })).toBeDisabled()
})
