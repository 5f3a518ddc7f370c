import { demo } from '../support/house'
import { axeInBoth, overflow, signIn, watched } from '../support/pages'
import { expect, test } from '../support/test'

// What takes longest is named so that it begins first: whoever works beside it has something to do until the end.

test('axe finds nothing in any frame of an editor, light or dark', async ({ page }) => {
  test.setTimeout(600_000)
  const errors = await watched(page)
  await signIn(page, 'orla')
  await page.goto(`${demo().url}/capture/points`)
  const editor = await page.getByRole('link', { name: 'Ask for a site visit', exact: true }).getAttribute('href')
  const appearing = await page.getByRole('link', { name: 'Call me back', exact: true }).getAttribute('href')
  await page.goto(`${demo().url}/capture/pages`)
  const landing = await page.getByRole('link', { name: 'Price guide, autumn', exact: true }).getAttribute('href')
  for (const path of [editor!, landing!, `${landing!}/results`]) {
    await page.goto(demo().url + path)
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await page.waitForTimeout(500)
    expect.soft([path, await overflow(page)]).toEqual([path, 0])
    expect.soft([path, await axeInBoth(page)]).toEqual([path, []])
  }
  // The frames of the storyboard that the editor does not open with.
  await page.goto(demo().url + editor!)
  for (const frame of ['Where it stands', 'Thanks', 'By mail', 'What we do']) {
    await page.getByRole('button', { name: frame }).click()
    await page.waitForTimeout(250)
    expect.soft([frame, await axeInBoth(page)]).toEqual([frame, []])
  }
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  expect.soft(['Look', await axeInBoth(page)]).toEqual(['Look', []])
  await page.goto(`${demo().url}/capture/points`)
  await page.getByRole('link', { name: 'Price guide', exact: true }).click()
  await page.getByRole('button', { name: 'Wordings' }).click()
  await expect(page.getByText('is the best with a probability')).toBeVisible()
  expect.soft(['Wordings', await axeInBoth(page)]).toEqual(['Wordings', []])
  await page.goto(demo().url + appearing!)
  for (const frame of ['Where it stands', 'Invitation']) {
    await page.getByRole('button', { name: frame }).click()
    await page.waitForTimeout(400)
    expect.soft([frame, await axeInBoth(page)]).toEqual([frame, []])
  }
  await page.goto(demo().url + landing!)
  for (const frame of ['Where it is found', 'Thanks']) {
    await page.getByRole('button', { name: frame }).click()
    await page.waitForTimeout(250)
    expect.soft([frame, await axeInBoth(page)]).toEqual([frame, []])
  }
  expect(errors).toEqual([])
})
