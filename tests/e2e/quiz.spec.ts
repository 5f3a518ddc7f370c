import { expect, test, type Page } from '../support/test'
import { demo, eventually, readDatabase, somebody } from '../support/house'
import { axe, overflow, signIn } from '../support/pages'

async function newQuiz(page: Page, starter: string): Promise<string> {
  const name = `Quiz ${Date.now()}`
  await signIn(page, 'tamsin', '/capture/points')
  await page.getByRole('button', { name: 'New quiz' }).click()
  await page.getByText(starter).click()
  await page.getByLabel('What do you call it').fill(name)
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name among yourselves')).toHaveValue(name)
  await expect(page.getByText('All saved')).toBeVisible()
  return name
}
const shareOf = (page: Page, result: string) =>
  page
    .getByRole('region', { name: 'Balance' })
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader', { name: result }) })

test('makes a quiz, types its weights with the arrow keys, watches the balance, and sees who came to what', async ({ page, browser }) => {
  const name = await newQuiz(page, 'Which one suits me?')
  await page.getByRole('button', { name: 'Weights' }).click()
  await expect(page.getByText('Worked out over all 27 ways')).toBeVisible()
  await expect(shareOf(page, 'The large one')).toContainText('33%')
  expect(await axe(page)).toEqual([])

  // From cell to cell by the keyboard: nothing speaks for the large one any more.
  await page.getByLabel('Many people, for The large one').focus()
  await page.keyboard.type('0')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await expect(page.getByLabel('A day a week, for The large one')).toBeFocused()
  await page.keyboard.type('0')
  await page.keyboard.press('Enter')
  await page.keyboard.type('0')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await expect(page.getByLabel('We are planning, for The large one')).toBeFocused()
  await page.keyboard.type('0')
  await expect(shareOf(page, 'The large one')).toContainText('never comes up')
  await expect(page.getByText('No answer speaks for “The large one”.')).toBeVisible()
  await page.getByLabel('Many people, for The large one').fill('two')
  await expect(page.getByText('Write a whole number')).toBeVisible()
  await page.getByLabel('Many people, for The large one').fill('5')
  await expect(shareOf(page, 'The large one')).toContainText('33%')

  // What is done by result, and the result itself.
  await page.getByRole('button', { name: 'What we do' }).click()
  const large = page.getByRole('group', { name: 'The large one' })
  await large.getByLabel('Tags').fill('large rooms')
  await large.getByLabel('Tags').press('Tab')
  await page.getByRole('button', { name: 'Results', exact: true }).click()
  await page.getByRole('button', { name: 'The large one', exact: true }).click()
  await page.getByRole('textbox', { name: 'Text of the result' }).fill('Room for everybody.')
  await expect(page.getByLabel('Preview', { exact: true }).getByText('Room for everybody.')).toBeVisible()
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.getByText('Edition 1 is live').first()).toBeVisible()

  // A visitor on a phone.
  const [{ slug, id }] = (await readDatabase(sql => sql`select slug, id from point where name = ${name}`)) as unknown as [
    { slug: string; id: string },
  ]
  const visitor = await (await browser.newContext({ viewport: { width: 390, height: 780 } })).newPage()
  await visitor.goto(`${demo().url}/p/${slug}`)
  await expect(visitor.getByText('Part 1 of 4')).toBeVisible()
  await visitor.getByRole('button', { name: 'Go on' }).click()
  await expect(visitor.getByText('Please answer this.')).toBeVisible()
  for (const answer of ['Many people', 'An hour a week', 'Soon']) {
    await visitor.getByRole('radio', { name: answer }).check()
    await visitor.getByRole('button', { name: 'Go on' }).click()
  }
  await expect(visitor.getByText('Where may we send your result?')).toBeVisible()
  expect(await axe(visitor)).toEqual([])
  const email = somebody('quiz')
  await visitor.getByLabel('E-mail address').fill(email)
  await visitor.waitForTimeout(700)
  await visitor.getByRole('button', { name: 'Show me the result' }).click()
  await expect(visitor.getByRole('heading', { name: 'The large one' })).toBeVisible()
  await expect(visitor.getByText('Room for everybody.')).toBeVisible()
  expect(await overflow(visitor)).toBe(0)
  expect(await axe(visitor)).toEqual([])
  await visitor.getByRole('link', { name: 'Start again' }).click()
  await expect(visitor.getByRole('radio', { name: 'Many people' })).not.toBeChecked()
  await visitor.context().close()

  const [lead] = await eventually(async () => {
    const rows = await readDatabase(sql => sql`select tags from lead where email = ${email}`)
    return rows.length ? (rows as unknown as { tags: string[] }[]) : null
  })
  expect(lead!.tags).toContain('large rooms')
  await page.goto(`${demo().url}/capture/points/${id}/results`)
  await expect(page.getByRole('heading', { name: 'Result', exact: true })).toBeVisible()
  await page.getByRole('button', { name: /The large one/ }).click()
  await expect(page.getByRole('row').filter({ hasText: 'Many people' })).toContainText('The large one')
})

test('describes people and what they should get, and takes the weights that are suggested', async ({ page }) => {
  await newQuiz(page, 'Which one suits me?')
  await page.getByRole('button', { name: 'Weights' }).click()
  const described = page.getByRole('region', { name: 'Suggested weights' })
  const choose = async (label: string, option: string) => {
    await described.getByRole('combobox', { name: label }).click()
    await page.getByRole('option', { name: option, exact: true }).click()
  }
  await described.getByRole('button', { name: 'Describe somebody' }).click()
  await choose('Should come to', 'The large one')
  await expect(described.getByText('should come to The large one, comes to The small one')).toBeVisible()
  await expect(page.getByText('“Somebody 1” should come to “The large one”')).toBeVisible()
  // Somebody who answers the same cannot get another outcome.
  await described.getByRole('button', { name: 'Describe somebody' }).click()
  await described.getByRole('button', { name: 'Suggest weights' }).click()
  await expect(described.getByText('Somebody 1 and Somebody 2 contradict each other')).toBeVisible()
  await choose('Who is it for?', 'A team')
  await choose('Should come to', 'The one in the middle')
  await described.getByRole('button', { name: 'Suggest weights' }).click()
  await expect(described.getByText(/each is ahead by \d at least/)).toBeVisible()
  await described.getByRole('button', { name: 'Take these weights' }).click()
  await expect(described.getByText('comes to The large one')).toBeVisible()
  await expect(described.getByText('comes to The one in the middle')).toBeVisible()
  await expect(page.getByText('should come to “The large one”')).toHaveCount(0)
  // A row that is half under the head of the page would be taken for one that is too small.
  await page.evaluate(() => scrollTo(0, 0))
  expect(await axe(page)).toEqual([])
})

test('a quiz stands on the sample site, where it shows by itself', async ({ page }) => {
  await page.goto(`${demo().standins.site}/which-room`)
  const quiz = page.locator('[data-cavlin-place]')
  await expect(quiz.getByText('Part 1 of')).toBeVisible()
  await quiz.getByRole('radio', { name: 'A restaurant or hotel' }).check()
  await quiz.getByRole('button', { name: 'Go on' }).click()
  await expect(quiz.getByText('What do you see in it, in January?')).toBeVisible()
  // Only on a roof somebody is asked what it carries.
  await quiz.getByRole('radio', { name: 'Leaves to cut' }).check()
  await quiz.getByRole('button', { name: 'Go on' }).click()
  await quiz.getByRole('radio', { name: 'In a field' }).check()
  await quiz.getByRole('button', { name: 'Go on' }).click()
  await expect(quiz.getByLabel('How large, in square metres?')).toBeVisible()
  await quiz.getByRole('button', { name: 'Back' }).click()
  await quiz.getByRole('radio', { name: 'On a roof' }).check()
  await quiz.getByRole('button', { name: 'Go on' }).click()
  await expect(quiz.getByText('Does somebody know what the roof carries?')).toBeVisible()
  expect(await axe(page)).toEqual([])
  // A reload goes on where it was, with what was answered.
  await page.reload()
  await expect(quiz.getByText('Does somebody know what the roof carries?')).toBeVisible()
  await quiz.getByRole('button', { name: 'Back' }).click()
  await expect(quiz.getByRole('radio', { name: 'On a roof' })).toBeChecked()
})

test('a quiz that is changed meanwhile goes on as it was begun, after a reload, too', async ({ page, browser }) => {
  const name = await newQuiz(page, 'Which one suits me?')
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.getByText('Edition 1 is live').first()).toBeVisible()
  const [{ slug, key }] = (await readDatabase(sql => sql`select slug, key from point where name = ${name}`)) as unknown as [
    { slug: string; key: string },
  ]
  const visitor = await (await browser.newContext()).newPage()
  await visitor.goto(`${demo().url}/p/${slug}`)
  await visitor.getByRole('radio', { name: 'A team' }).check()
  await visitor.getByRole('button', { name: 'Go on' }).click()
  await expect(visitor.getByText('How much time do you have for it?')).toBeVisible()

  await page.getByRole('navigation', { name: 'Storyboard' }).getByRole('button', { name: 'Questions' }).click()
  await page.getByRole('button', { name: 'How much time do you have for it?', exact: true }).click()
  await page.locator('#q-time-label').fill('How many hours have you?')
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.getByText('Edition 2 is live').first()).toBeVisible()
  await eventually(async () => (await (await fetch(`${demo().url}/w/points/${key}`)).text()).includes('How many hours'))

  await visitor.reload()
  await expect(visitor.getByText('How much time do you have for it?')).toBeVisible()
  await visitor.getByRole('radio', { name: 'A day a week' }).check()
  await visitor.getByRole('button', { name: 'Go on' }).click()
  await visitor.getByRole('radio', { name: 'Soon' }).check()
  await visitor.getByRole('button', { name: 'Go on' }).click()
  const email = somebody('meanwhile')
  await visitor.getByLabel('E-mail address').fill(email)
  await visitor.getByRole('button', { name: 'Show me the result' }).click()
  await expect(visitor.getByRole('heading', { name: 'The one in the middle' })).toBeVisible()
  const [{ number }] = (await readDatabase(
    sql => sql`select d.number from entry e join edition d on d.id = e.edition_id join lead l on l.id = e.lead_id where l.email = ${email}`,
  )) as unknown as [{ number: number }]
  expect(number).toBe(1)
  // Who comes anew gets the new one.
  await visitor.goto(`${demo().url}/p/${slug}`)
  await visitor.getByRole('radio', { name: 'A team' }).check()
  await visitor.getByRole('button', { name: 'Go on' }).click()
  await expect(visitor.getByText('How many hours have you?')).toBeVisible()
})

test('marks are given on a landing page, with what is right and why', async ({ page }) => {
  await page.goto(`${demo().url}/p/how-bright-is-your-winter`)
  const answers = ['Hours of light', 'A flat roof', 'A white wall to the north', 'A tenth to a fifth']
  for (const answer of answers) {
    await page.getByRole('radio', { name: answer }).check()
    await page.getByRole('button', { name: 'Go on' }).click()
  }
  await page.getByRole('checkbox', { name: 'Lamb’s lettuce' }).check()
  await page.getByRole('button', { name: 'Go on' }).click()
  await page.getByLabel('E-mail address').fill(somebody('light'))
  await page.waitForTimeout(700)
  await page.getByRole('button', { name: 'Show me what is right' }).click()
  await expect(page.getByText('4 of 6 points')).toBeVisible()
  await expect(page.getByText('Right would have been: Steep panes to the south')).toBeVisible()
  expect(await axe(page)).toEqual([])
})

test('takes a quiz away as a file, and makes another from it', async ({ page }, info) => {
  await signIn(page, 'tamsin', '/capture/points')
  const link = page.getByRole('link', { name: 'Which growing room suits you? as a file' })
  const [file] = await Promise.all([page.waitForEvent('download'), link.click()])
  expect(file.suggestedFilename()).toBe('which-growing-room-suits-you.json')
  const path = info.outputPath('quiz.json')
  await file.saveAs(path)
  await page.getByRole('button', { name: 'New form' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.locator('input[type=file]').setInputFiles(path)
  await expect(dialog.getByRole('alert')).toContainText('is of a quiz, not of a form')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'New quiz' }).click()
  await dialog
    .locator('input[type=file]')
    .setInputFiles({ name: 'shopping.json', mimeType: 'application/json', buffer: Buffer.from('["milk"]') })
  await expect(dialog.getByRole('alert')).toContainText('shopping.json is no file')
  await dialog.locator('input[type=file]').setInputFiles(path)
  await dialog.getByLabel('What do you call it').fill(`Brought in ${Date.now()}`)
  await dialog.getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByRole('heading', { name: 'As visitors see it' })).toBeVisible()
  await page.getByRole('button', { name: 'Results', exact: true }).click()
  await expect(page.getByRole('button', { name: 'The growing classroom', exact: true })).toBeVisible()
})
