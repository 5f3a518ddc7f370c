import { expect, test } from '../support/test'
import { ask, demo, eventually, send, somebody } from '../support/house'
import { axe, signIn } from '../support/pages'

test('a manager adds a lane, is told what is wrong with it, makes it live, and the next lead goes there', async ({ page }) => {
  await signIn(page, 'ansel', '/route')
  await expect(page.getByRole('heading', { name: 'Routing plan' })).toBeVisible()
  await page.getByRole('button', { name: 'A new lane' }).click()
  await expect(page.getByRole('textbox', { name: 'Name of lane 3' })).toBeFocused()
  await page.keyboard.type('Own gardens')
  await page.keyboard.press('Tab')
  const lane = page.locator('.lane').filter({ has: page.locator('input[aria-label="Name of lane 3"]') })
  await expect(lane.getByText('Nobody is in “Own gardens”. Put somebody in.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Make it live' })).toBeDisabled()

  await page.getByRole('combobox', { name: 'Put somebody into Own gardens' }).click()
  await page.getByRole('option', { name: 'Ansel Thwaite' }).click()
  await expect(page.getByText('“Everyone else” gets nobody: “Own gardens” above takes them all.')).toBeVisible()
  await lane.getByRole('button', { name: 'Everybody', exact: true }).click()
  await lane.getByRole('button', { name: 'One more test: who they are' }).click()
  await lane.getByRole('combobox', { name: 'What is asked' }).click()
  await page.getByRole('option', { name: 'Sector', exact: true }).click()
  await lane.getByRole('combobox', { name: 'With which' }).click()
  await page.getByRole('option', { name: 'My own garden' }).click()
  await expect(page.getByText('“Everyone else” gets nobody')).toHaveCount(0)
  expect(await axe(page)).toEqual([])

  // By keyboard: a share, an undo of it, and the lane one up and down again.
  const share = page.getByRole('textbox', { name: 'Share of Ansel Thwaite in Own gardens' })
  await share.focus()
  await share.press('ArrowUp')
  await expect(share).toHaveValue('2')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(share).toHaveValue('1')
  await page.getByRole('button', { name: 'Move Own gardens up' }).press('Enter')
  await expect(page.locator('.lane').nth(1).getByRole('textbox', { name: 'Name of lane 2' })).toHaveValue('Own gardens')
  await page.getByRole('button', { name: 'Move Own gardens down' }).press('Enter')
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make it live' }).click()
  await expect(page.getByText('Edition 2 is live. It routes from now on; who has an owner keeps them.')).toBeVisible()

  const email = somebody('own-garden')
  expect((await send('form_visit', { email, first_name: 'Odo', last_name: 'Elderfield', sector: 'private', size: 'small' })).status).toBe(
    201,
  )
  const owner = await eventually(
    async () =>
      (await ask<{ leads: { owner: { name: string } | null }[] }>(`/api/v1/leads?email=${encodeURIComponent(email)}`)).leads[0]?.owner,
  )
  expect(owner.name).toBe('Ansel Thwaite')

  // The way back: the edition before is the working copy again, and goes live as the third.
  await page.getByRole('combobox', { name: 'Go back to an edition' }).click()
  await page.getByRole('option', { name: /^Edition 1/ }).click()
  await expect(page.getByRole('textbox', { name: 'Name of lane 4' })).toHaveCount(0)
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByRole('button', { name: 'Make it live' }).click()
  await expect(page.getByText('Edition 3 is live.')).toBeVisible()
})

test('a salesperson says when they are away and who stands in, and changes nothing else; a manager sets hours', async ({
  page,
  browser,
}) => {
  await signIn(page, 'jonah', '/route')
  await expect(page.getByText('You can look at the plan; managers change it.')).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Name of lane 1' })).toBeDisabled()
  await page.getByRole('link', { name: 'People and hours' }).click()
  await expect(page.getByRole('button', { name: /is away …/ })).toHaveCount(1)
  await page.getByRole('button', { name: 'Jonah Birkett is away …' }).click()
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByText('Choose the first and the last day.')).toBeVisible()
  const from = page.getByRole('combobox', { name: 'From' })
  const until = page.getByRole('combobox', { name: 'to, the last day' })
  await from.fill('3 Mar 2031')
  await from.press('Tab')
  await until.fill('7 Mar 2031')
  await until.press('Tab')
  await page.getByRole('combobox', { name: 'Stands in' }).click()
  await page.getByRole('option', { name: 'Mireille Vauclair' }).click()
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByText('3 March 2031 to 7 March 2031, Mireille Vauclair stands in')).toBeVisible()
  expect(await axe(page)).toEqual([])

  const boss = await (await browser.newContext()).newPage()
  await signIn(boss, 'ansel', '/route/people')
  const person = boss.locator('.person').filter({ hasText: 'Jonah Birkett' })
  await expect(person.getByText('3 March 2031 to 7 March 2031')).toBeVisible()
  await boss.getByRole('button', { name: 'Change the hours of Jonah Birkett' }).click()
  await person.getByRole('textbox', { name: 'Friday' }).fill('nonsense')
  await person.getByRole('textbox', { name: 'Friday' }).press('Tab')
  await expect(person.getByText('Like 8–12, 13:30–18. Nothing: a day off.')).toBeVisible()
  await person.getByRole('button', { name: 'Keep it' }).click()
  await expect(person.getByText('Mend the day that is marked first.')).toBeVisible()
  await person.getByRole('textbox', { name: 'Friday' }).fill('7-12, 13:30-16')
  await person.getByRole('textbox', { name: 'Friday' }).press('Tab')
  expect(await axe(boss)).toEqual([])
  await person.getByRole('button', { name: 'Keep it' }).click()
  await expect(person.getByText('Mon–Thu 7–16; Fri 7–12, 13:30–16')).toBeVisible()
  // In the other window it stands without a reload; what was planned is taken back, and back again.
  await expect(page.locator('.person').filter({ hasText: 'Jonah Birkett' })).toContainText('Fri 7–12, 13:30–16')
  await page.getByRole('button', { name: 'Jonah Birkett is not away from 3 March 2031' }).click()
  await expect(page.getByText('3 March 2031')).toHaveCount(0)
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByText('3 March 2031 to 7 March 2031')).toBeVisible()
  await page.setViewportSize({ width: 390, height: 780 })
  for (const path of ['/route', '/route/people']) {
    await page.goto(demo().url + path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)).toBeLessThanOrEqual(0)
  }
})
