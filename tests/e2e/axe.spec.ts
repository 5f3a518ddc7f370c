import { demo } from '../support/house'
import { axeInBoth, overflow, signIn, watched } from '../support/pages'
import { aLead, SCREENS } from '../support/screens'
import { expect, test } from '../support/test'

// What takes longest is named so that it begins first: whoever works beside it has something to do until the end.

test('axe finds nothing on any main screen, light or dark, and nothing sticks out', async ({ page }) => {
  test.setTimeout(900_000)
  const errors = await watched(page)
  await page.goto(`${demo().url}/sign-in`)
  await expect(page.getByRole('button', { name: /Orla/ })).toBeVisible()
  expect(await axeInBoth(page)).toEqual([])
  await signIn(page, 'orla')
  for (const path of [...SCREENS, await aLead()]) {
    await page.goto(demo().url + path)
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await page.waitForTimeout(500)
    expect.soft([path, await overflow(page)]).toEqual([path, 0])
    expect.soft([path, await axeInBoth(page)]).toEqual([path, []])
  }
  await signIn(page, 'mireille')
  await expect(page.locator('.hand .timeline')).toBeVisible()
  await page.getByRole('button', { name: 'Why?' }).click()
  expect(await axeInBoth(page)).toEqual([])
  expect(errors).toEqual([])
})
