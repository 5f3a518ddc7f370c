import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Locator } from '@playwright/test'
import { expect, test, type Page } from '../support/test'
import { ask, eventually, mails, somebody } from '../support/house'
import { otherSite, signIn } from '../support/pages'

const GUIDE = fileURLToPath(new URL('../../demo/files/price-guide.pdf', import.meta.url))

/** A newcomer’s hands: what they click and write is counted, and it has to be on the screen already, with nothing over it. */
function hands(page: Page) {
  const counted = { clicks: 0, texts: 0 }
  const press = async (at: Locator) => {
    let place = { x: 0, y: 0 }
    await expect(async () => {
      await expect(at).toBeEnabled({ timeout: 100 })
      const box = (await at.boundingBox())!
      place = { x: box.x + Math.min(box.width / 2, 80), y: box.y + Math.min(box.height / 2, 15) }
      const open = await at.evaluate((e, { x, y }) => {
        const over = (e.getRootNode() as ShadowRoot).elementFromPoint(x, y)
        return Boolean(over && (e.contains(over) || over.contains(e)) && getComputedStyle(over).pointerEvents !== 'none')
      }, place)
      expect({ inside: place.y > 0 && place.y < 785, open }, String(at)).toEqual({ inside: true, open: true })
      await page.waitForTimeout(120)
      expect(await at.boundingBox()).toEqual(box)
    }).toPass({ timeout: 5000 })
    await page.mouse.click(place.x, place.y)
  }
  return {
    counted,
    click: async (at: Locator) => {
      counted.clicks++
      await press(at)
    },
    write: async (at: Locator, text: string) => {
      counted.texts++
      await at.waitFor()
      if (!(await at.evaluate(e => e === document.activeElement))) {
        counted.clicks++
        await press(at)
      }
      await page.keyboard.press('Control+a')
      await page.keyboard.type(text)
    },
  }
}

test('a newcomer’s three minutes: from a starter to the test entry on its owner’s Today, in 20 clicks and 6 texts', async ({
  page,
  browser,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  const name = `Walk ${Date.now()}`
  await signIn(page, 'tamsin', '/capture/points')
  const { counted, click, write } = hands(page)
  const button = (named: string | RegExp) => page.getByRole('button', { name: named, exact: typeof named === 'string' })

  await click(button('New form'))
  await click(page.getByRole('radiogroup', { name: 'What it begins with' }).getByText('Download a guide'))
  await write(page.getByLabel('What do you call it'), name)
  await click(button('Make it'))

  await click(button('Add a question'))
  await write(page.getByLabel('Question', { exact: true }).last(), 'What do you grow?')
  await click(button('Add a question'))
  await write(page.getByLabel('Question', { exact: true }).last(), 'How large is your place?')

  await click(button('What we do'))
  await click(page.getByRole('combobox', { name: 'Label to give' }))
  await click(page.getByRole('option', { name: 'Marketing qualified', exact: true }))

  await click(button(/^Thanks/))
  await click(button('File to download: choose'))
  await click(button('From this computer'))
  await page
    .getByRole('dialog')
    .locator('input[type=file]')
    .setInputFiles({ name: `guide-${Date.now()}.pdf`, mimeType: 'application/pdf', buffer: readFileSync(GUIDE) })

  await click(button('Look'))
  await click(page.getByRole('combobox', { name: 'House style' }))
  await click(page.getByRole('option').nth(1))

  await expect(page.getByText('Stops', { exact: true })).toHaveCount(0)
  await click(button('Make it live'))
  await click(button('Copy the tag'))
  const tag = await page.evaluate(() => navigator.clipboard.readText())
  expect(counted.clicks).toBeLessThanOrEqual(20)
  expect(counted.texts).toBeLessThanOrEqual(6)

  const elsewhere = await otherSite(`<!doctype html><html lang="en"><title>Elsewhere</title><main><h1>Elsewhere</h1>${tag}</main></html>`)
  const visitor = await browser.newPage()
  await visitor.goto(elsewhere.url)
  const email = somebody('walk')
  await visitor.getByLabel('First name').fill('Walda')
  await visitor.getByLabel('E-mail address').fill(email)
  await visitor.getByLabel('What do you grow?').fill('Figs')
  await visitor.waitForTimeout(2000)
  await visitor.getByRole('button', { name: 'Send me the guide' }).click()
  await expect(visitor.getByRole('link', { name: /guide-\d+\.pdf/ })).toBeVisible()
  await visitor.close()
  elsewhere.close()

  const mail = await eventually(async () => (await mails()).find(m => m.to === email))
  expect([mail.subject, mail.text.match(/\/go\//g)?.length]).toEqual(['Walda, here is what you asked for', 1])
  const {
    leads: [lead],
  } = await ask<{ leads: { owner: { email: string }; tags: string[] }[] }>(`/api/v1/leads?email=${encodeURIComponent(email)}`)
  await page.context().clearCookies()
  await signIn(page, lead!.owner.email.split('@')[0]!)
  await expect(
    page
      .getByRole('main')
      .getByRole('link', { name: /^Walda/ })
      .first(),
  ).toBeVisible()
})
