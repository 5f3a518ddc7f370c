import { ask, demo, send, somebody } from '../support/house'
import { axe, outside, overflow, signIn } from '../support/pages'
import { aLead, SCREENS } from '../support/screens'
import { expect, test } from '../support/test'

test('whoever has it dark has it dark from the first moment on', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'dark' })
  await signIn(page, 'orla')
  await expect(page.locator('html.dark')).toBeVisible()
})

test('on a phone nothing sticks out, however long what people are called is, and a lead can be worked with', async ({ page }) => {
  const long = somebody(`bartholomew.elderfield-marchbank`)
  expect(
    (
      await send('form_visit', {
        email: long,
        first_name: 'Bartholomewalexander',
        last_name: 'Elderfieldmarchbankconstantine',
        company: 'Underthornhollowmillracegrowersofalderbeck',
        sector: 'school',
        size: 'large',
      })
    ).status,
  ).toBe(201)
  const { leads } = await ask<{ leads: { id: string }[] }>('/api/v1/leads?limit=12')
  await page.setViewportSize({ width: 390, height: 780 })
  await signIn(page, 'mireille')
  for (const path of [...SCREENS.slice(0, -1), await aLead(), ...leads.map(l => `/follow-up/leads/${l.id}`)]) {
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
  expect(await axe(page)).toEqual([])
})
