import { expect, test, type Page } from '../support/test'
import { demo, eventually, readDatabase, somebody } from '../support/house'
import { liveQuiz, SORTED } from '../support/live-quiz'
import { axe, overflow } from '../support/pages'

const answer = async (page: Page, text: string) => {
  await page.getByRole('radio', { name: text, exact: true }).check()
  await page.getByRole('button', { name: 'Go on' }).click()
}
const keptOf = (id: string) => readDatabase(sql => sql`select entry_id from nameless where point_id = ${id}`)

test('a result comes first, and below it one may say who one is, after a reload, too', async ({ page }) => {
  const q = await liveQuiz('sorting', d => {
    d.quiz!.contact = 'after'
    d.thanks = 'Thank you. It is on its way.'
  })
  expect(q.errors).toEqual([])
  await page.setViewportSize({ width: 390, height: 780 })
  await page.goto(`${demo().url}/p/${q.slug}`)
  await expect(page.getByText('Part 1 of 3')).toBeVisible()
  await answer(page, SORTED.for)
  await answer(page, SORTED.time)
  await page.getByRole('radio', { name: SORTED.when }).check()
  // Whoever is faster than anybody reads is taken for a machine, and not counted.
  await page.waitForTimeout(700)
  await page.getByRole('button', { name: 'Show me the result' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('The large one')
  await expect(page.getByText('Where may we send your result?')).toBeVisible()
  await expect(page.getByRole('radio')).toHaveCount(0)
  expect(await overflow(page)).toBe(0)
  expect(await axe(page)).toEqual([])
  expect(await keptOf(q.id)).toMatchObject([{ entryId: null }])
  await page.reload()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('The large one')
  await page.getByRole('button', { name: 'Send', exact: true }).click()
  await expect(page.getByText('Please answer this.')).toBeVisible()
  const email = somebody('below')
  await page.getByLabel('E-mail address').fill(email)
  await page.getByRole('button', { name: 'Send', exact: true }).click()
  await expect(page.getByText('Thank you. It is on its way.')).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('The large one')
  // Once, as themselves.
  await eventually(async () => (await keptOf(q.id)).length === 0)
  const entries = await readDatabase(sql => sql`select 1 from entry where point_id = ${q.id}`)
  expect(entries).toHaveLength(1)
  await page.getByRole('link', { name: 'Start again' }).click()
  await expect(page.getByText('Part 1 of 3')).toBeVisible()
  await expect(page.getByText('Thank you. It is on its way.')).toBeHidden()
})

test('questions who it is are skipped, at the end and at the start, and nothing of them is sent', async ({ page }) => {
  for (const contact of ['before', 'start'] as const) {
    const q = await liveQuiz('sorting', d => {
      d.quiz!.skip = true
      d.quiz!.contact = contact
    })
    await page.goto(`${demo().url}/p/${q.slug}`)
    const skip = async () => {
      await page.getByLabel('E-mail address').fill('half.typed@guests.example')
      await page.getByRole('button', { name: 'Skip this' }).click()
    }
    if (contact === 'start') await skip()
    await page.getByRole('radio', { name: SORTED.for, exact: true }).check()
    await expect(page.locator('.cv-next')).toBeVisible()
    // Where it was skipped is known after a reload, however soon it comes.
    const again = page.waitForEvent('load')
    await page.evaluate(() => {
      document.querySelector<HTMLButtonElement>('.cv-next')!.click()
      queueMicrotask(() => queueMicrotask(() => queueMicrotask(() => location.reload())))
    })
    await again
    await answer(page, SORTED.time)
    await expect(page.getByRole('button', { name: 'Skip this' })).toBeHidden()
    await page.getByRole('radio', { name: SORTED.when }).check()
    await page.waitForTimeout(700)
    const sent = page.waitForRequest(r => r.url().endsWith('/entries'))
    if (contact === 'before') {
      await page.getByRole('button', { name: 'Go on' }).click()
      await skip()
    } else await page.getByRole('button', { name: 'Show me the result' }).click()
    expect((await sent).postData()).not.toContain('half.typed')
    await expect(page.getByRole('heading', { name: 'The large one' })).toBeVisible()
    expect(await keptOf(q.id)).toHaveLength(1)
  }
})

test('after each answer it is said what is right, once, and the answer stays', async ({ page }) => {
  const q = await liveQuiz('knowing', d => {
    d.quiz!.says = 'each'
    d.quiz!.shuffle = 'choices'
  })
  await page.goto(`${demo().url}/p/${q.slug}`)
  const choices = async () => await page.getByRole('radio').evaluateAll(all => all.map(r => (r as HTMLInputElement).value))
  const order = await choices()
  await answer(page, 'Another')
  const said = page.getByRole('status').filter({ hasText: 'Right would have been: The right answer' })
  await expect(said).toBeVisible()
  await page.getByRole('radio', { name: 'The right answer' }).click()
  await expect(page.getByRole('radio', { name: 'Another' })).toBeChecked()
  await expect(page.getByRole('button', { name: 'Back' })).toBeHidden()
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'Go on' }).click()
  await answer(page, 'The right answer')
  await expect(page.getByText('That is right.')).toBeVisible()
  // The order in which somebody began is theirs after a reload.
  await page.reload()
  await expect(page.getByRole('button', { name: 'Go on' })).toBeVisible()
  await page.goto(`${demo().url}/p/${q.slug}`)
  // The page comes in an order of its own, and is put into theirs by the script.
  const inThePage = () => page.locator('[data-question=one] input').evaluateAll(all => all.map(r => (r as HTMLInputElement).value))
  await expect.poll(inThePage).toEqual(order)
})

test('a result is shown to others by its address', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  const q = await liveQuiz('sorting', d => {
    d.quiz!.skip = true
  })
  await page.goto(`${demo().url}/p/${q.slug}`)
  for (const text of Object.values(SORTED)) await answer(page, text)
  await page.getByRole('button', { name: 'Skip this' }).click()
  await page.getByRole('link', { name: 'Show this result to others' }).click()
  await expect(page.getByText('The address is copied.')).toBeVisible()
  const address = await page.evaluate(() => navigator.clipboard.readText())
  await page.goto(address)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('The large one')
  expect(await axe(page)).toEqual([])
  await page.getByRole('link', { name: 'Find out yours' }).click()
  await expect(page.getByText('Part 1 of 4')).toBeVisible()
})
