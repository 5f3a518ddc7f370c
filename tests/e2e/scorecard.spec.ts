import { expect, test } from '../support/test'
import { axe, overflow, signIn } from '../support/pages'

// The working copy only: what is live in this house is other tests' business.
test('a manager shapes the scorecard by keyboard and on the square, undoes it, and is told what is wrong', async ({ page }) => {
  await signIn(page, 'ansel', '/qualify')
  await expect(page.getByText('Edition 1, live since')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Make it live' })).toBeDisabled()
  expect(await axe(page)).toEqual([])

  const points = page.getByLabel(/^Points of /).first()
  const before = Number(await points.inputValue())
  await points.press('ArrowUp')
  await points.press('Shift+ArrowUp')
  await expect(points).toHaveValue(String(before + 11))
  await expect(page.getByText('what you see here is not live yet')).toBeVisible()
  await expect(page.getByText('All saved')).toBeVisible()
  await points.fill('many')
  await points.press('Tab')
  await expect(page.getByText('Write a whole number')).toBeVisible()
  await points.fill(String(before))
  await points.press('Tab')
  await expect(page.getByText('what you see here is not live yet')).toBeHidden()

  // A label out of reach is said; its corner is dragged, and the table follows.
  const top = page.getByRole('row').nth(1)
  const fit = top.getByLabel(/^Fit from/)
  const was = await fit.inputValue()
  await fit.fill('900')
  await fit.press('Tab')
  await expect(page.getByText(/Nobody can reach “.*”: it asks for 900 points of fit/)).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(fit).toHaveValue(was)
  const square = page.locator('canvas[role=img]')
  const box = (await square.boundingBox())!
  const interest = top.getByLabel(/^Interest from/)
  const at = (n: number, long: number) => 10 + ((n + 10) / 120) * (long - 20)
  const corner = { x: box.x + at(Number(await interest.inputValue()), box.width), y: box.y + box.height - at(Number(was), box.height) }
  await page.mouse.move(corner.x, corner.y)
  await page.mouse.down()
  await page.mouse.move(corner.x - 60, corner.y + 40, { steps: 4 })
  await page.mouse.up()
  await expect(fit).not.toHaveValue(was)
  expect(page.url()).toContain('/qualify')
  // However far it was dragged, it is one step.
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(fit).toHaveValue(was)

  // A rule of one's own, with a condition and a note; off, and out again.
  await page.getByRole('button', { name: 'Add a rule of fit' }).click()
  const name = page
    .getByLabel(/^Name of rule/)
    .filter({ visible: true })
    .and(page.locator(':focus'))
  await name.fill('Knows us')
  await name.press('Tab')
  await expect(page.getByLabel('Points of Knows us')).toHaveValue('5')
  await page.getByLabel('A note for colleagues').fill('From the open day')
  await page.getByLabel('A note for colleagues').press('Tab')
  await page.getByLabel('It counts').uncheck()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.reload()
  await expect(page.getByText('From the open day')).toBeVisible()
  await expect(page.getByText('what you see here is not live yet')).toBeVisible()
  await page.getByRole('listitem').filter({ hasText: 'From the open day' }).getByRole('button', { expanded: false }).click()
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'Take Knows us out' }).click()
  await expect(page.getByText('what you see here is not live yet')).toBeHidden()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.setViewportSize({ width: 390, height: 800 })
  expect(await overflow(page)).toBe(0)
})

test('others look at the scorecard, and change nothing', async ({ page }) => {
  await signIn(page, 'mireille', '/qualify')
  await expect(page.getByText('managers change it')).toBeVisible()
  await expect(page.getByLabel(/^Points of /).first()).toBeDisabled()
  await expect(page.getByRole('button', { name: 'Make it live' })).toHaveCount(0)
})
