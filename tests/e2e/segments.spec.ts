import { expect, test } from '../support/test'
import { demo, somebody } from '../support/house'
import { axe, overflow, signIn } from '../support/pages'

const site = () => demo().standins.site

test('what is typed on the site and not sent shows as not sent yet, in Cavlin’s form and in the site’s own', async ({ page, browser }) => {
  const visitor = await (await browser.newContext()).newPage()
  const errors: string[] = []
  visitor.on('pageerror', e => errors.push(e.message))
  await visitor.goto(`${site()}/prices`)
  await visitor.getByRole('button', { name: 'Yes, remember' }).click()
  const email = somebody('unsent')
  const guide = visitor.locator('[data-cavlin=form_guide]')
  await guide.getByLabel('First name').fill('Ottoline')
  const kept = visitor.waitForResponse(r => r.url().endsWith('/w/unfinished') && (r.request().postData() ?? '').includes(email))
  await guide.getByLabel('E-mail').pressSequentially(email)
  await visitor.keyboard.press('Tab')
  expect((await kept).status()).toBe(204)
  await signIn(page, 'jonah', `/follow-up?search=${email}`)
  await expect(page.getByRole('row', { name: /Ottoline/ })).toContainText('not sent yet')
  await page.getByRole('link', { name: 'Ottoline' }).click()
  await expect(page.getByText('They typed this and never sent it')).toBeVisible()
  await expect(page.locator('.timeline .unfinished')).toContainText('unfinished')
  expect(await axe(page)).toEqual([])
  // The site's own form, the address in the wrong field, and what is paid with in the last.
  await visitor.goto(`${site()}/journal`)
  const other = somebody('gardener')
  await visitor.getByLabel('Card number').fill('4111 1111 1111 1111')
  await visitor.getByLabel('First name').fill('Basil')
  await visitor.getByLabel('Your question').fill(`Please write to ${other}`)
  const sent = visitor.waitForResponse(r => r.url().endsWith('/w/unfinished') && (r.request().postData() ?? '').includes(other))
  await visitor.keyboard.press('Tab')
  const body = (await sent).request().postData()!
  expect(body).toContain('Ask the gardener')
  expect(body).not.toContain('4111')
  await page.goto(`${demo().url}/follow-up?search=${other}`)
  await page.getByRole('link', { name: 'Basil' }).click()
  // Whoever pauses before the address is taken for the one who typed in this browser before, whose other form stands there, too.
  const left = page.locator('.timeline .unfinished', { hasText: 'Ask the gardener' })
  await expect(left).toContainText('Left Ask the gardener unfinished')
  await visitor.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(left).toContainText('Filled in Ask the gardener on the site')
  expect(errors).toEqual([])
  await visitor.context().close()
})

test('what is typed into the site’s own form before the script knows whether it may keep it is kept, too', async ({ browser }) => {
  const visitor = await (await browser.newContext()).newPage()
  await visitor.goto(`${site()}/prices`)
  await visitor.getByRole('button', { name: 'Yes, remember' }).click()
  let known = () => {}
  const typed = new Promise<void>(done => (known = done))
  await visitor.route('**/w/site', async route => {
    await typed
    await route.continue()
  })
  await visitor.goto(`${site()}/journal`)
  const early = somebody('early')
  await visitor.getByLabel('First name').fill('Basil')
  await visitor.getByLabel('Your question').fill(`Please write to ${early}`)
  await visitor.getByLabel('Your question').blur()
  const kept = visitor.waitForRequest(r => r.url().endsWith('/w/unfinished') && (r.postData() ?? '').includes(early), { timeout: 15_000 })
  known()
  expect((await kept).postData()).toContain('Ask the gardener')
  await visitor.context().close()
})

test('nothing that is typed leaves a browser whose person did not agree', async ({ browser }) => {
  const visitor = await (await browser.newContext()).newPage()
  const sent: string[] = []
  visitor.on('request', r => r.method() === 'POST' && r.url().includes('/w/') && sent.push(r.url()))
  await visitor.goto(`${site()}/journal`)
  await visitor.getByLabel('First name').fill('Basil')
  await visitor.getByLabel('E-mail for the answer').fill(somebody('silent'))
  await visitor.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(visitor.getByText('The gardener reads on Sundays')).toBeVisible()
  expect(sent).toEqual([])
  await visitor.context().close()
})

test('a marketer says whom they mean, sees the count while they do, and keeps it; others find the people by it', async ({ page }) => {
  await signIn(page, 'tamsin', '/qualify/segments')
  await page.getByRole('button', { name: 'New segment' }).click()
  const counted = page.getByRole('status').filter({ hasText: 'leads' })
  await expect(counted).toContainText(/\d+ of \d+ leads/)
  const before = await counted.textContent()
  await page.getByLabel('How many times at least').fill('1')
  await page.getByLabel('In how many days').fill('90')
  await expect(counted).not.toHaveText(before!)
  await page.getByRole('button', { name: 'One more test: who they are' }).click()
  // What was said so far is still there after a reload.
  await page.reload()
  await expect(page.getByLabel('In how many days')).toHaveValue('90')
  const name = `Prices ${Date.now()}`
  await page.getByLabel('Name', { exact: true }).fill(name)
  await page.getByRole('button', { name: 'Take this test out' }).last().click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(`${name} is saved.`)).toBeVisible()
  await expect(counted).not.toHaveText(/^\s*0 of/)
  const people = Number((await counted.textContent())!.match(/^\s*([\d,]+)/)![1]!.replace(/,/g, ''))
  expect(await axe(page)).toEqual([])
  await page.getByRole('link', { name: 'Show them' }).click()
  await expect(page.getByRole('status')).toContainText(`${people.toLocaleString('en')} fit`)
  await page.goBack()
  await page.getByRole('button', { name: 'Take away', exact: true }).first().click()
  await expect(page.getByText(`${name} is gone`)).toBeVisible()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByRole('link', { name: new RegExp(name) })).toBeVisible()
})

test('people come onto a list with a table: looked at first, told what is wrong with it, found again', async ({ page }) => {
  await signIn(page, 'tamsin', '/qualify/segments')
  // They stand above, and push down what is pressed while they come.
  await expect(page.getByRole('link', { name: /Gone quiet/ })).toBeVisible()
  const list = `Fair ${Date.now()}`
  await page.getByLabel('Name of a new list').fill(list)
  await page.getByRole('button', { name: 'Make it' }).click()
  await page.getByRole('button', { name: `Bring people in: ${list}` }).click()
  const dialog = page.getByRole('dialog')
  const [one, two] = [somebody('fair'), somebody('fair')]
  await dialog.locator('input[type=file]').setInputFiles({
    name: 'fair.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      `E-mail;First name;Shoe size;Size\n${one};Änn;39;Over 200 m²\n${two};"Bo;b";41;\n;nobody;1;\n${one};Änne;39;enormous\n`,
      'latin1',
    ),
  })
  await expect(dialog.getByText('2 people', { exact: true })).toBeVisible()
  await expect(dialog.getByText('Line 4: There is no e-mail address.')).toBeVisible()
  await expect(dialog.getByText(/Line 5: Size/)).toBeVisible()
  expect(await axe(page)).toEqual([])
  await expect(dialog.getByText(`${one}, lines 2, 5`)).toBeVisible()
  await expect(dialog.getByText('Western European (Latin-1)')).toBeVisible()
  const bring = dialog.getByRole('button', { name: 'Bring in 2 people' })
  await expect(bring).toBeDisabled()
  await dialog.getByText('Whoever’s turn it is').click()
  await bring.click()
  await expect(page.getByText(`2 people are on ${list} now, 2 of them new.`)).toBeVisible()
  await page.getByRole('link', { name: list }).click()
  await expect(page.getByRole('link', { name: 'Änne' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Bo;b' })).toBeVisible()
  await page.goBack()
  await page.getByRole('button', { name: `Bring people in: ${list}` }).click()
  await dialog.getByRole('button', { name: /^Take back what came/ }).click()
  await expect(page.getByText('The table is taken back. 2 people who had come by it are gone.')).toBeVisible()
  await expect(dialog.getByText('taken back: 2 gone')).toBeVisible()
})

test('on a phone segments can be read without sideways scrolling', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  await signIn(page, 'tamsin', '/qualify/segments')
  await page.getByText('Weighing the prices').click()
  await expect(page.getByText(/of [\d,]+ leads/)).toBeVisible()
  expect(await overflow(page)).toBe(0)
})

test('two wordings of a form stand side by side, visitors see one each and always the same, and the one that does better is kept', async ({
  page,
  browser,
}) => {
  await signIn(page, 'tamsin', '/capture/points')
  await page.getByRole('button', { name: 'New form' }).click()
  const name = `Wordings ${Date.now()}`
  await page.getByLabel('What do you call it').fill(name)
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Wordings' }).click()
  await page.getByRole('button', { name: 'Try another wording' }).click()
  const second = page.getByRole('region', { name: 'Wording B' })
  await second.getByRole('textbox', { name: /title/i }).first().fill('Another title')
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.getByRole('alert').getByText('Edition 1 is live.')).toBeVisible()
  await expect(page.getByText('Too few to tell.')).toBeVisible()
  expect(await axe(page)).toEqual([])
  expect(await overflow(page)).toBe(0)
  const id = page.url().split('/').at(-1)!
  const { key } = (await (await page.request.get(`${demo().url}/api/team/points/${id}`)).json()) as { key: string }
  // As the site would show it, to visitors who agreed: until both were shown, which a fair draw does long before the fortieth.
  const titles: string[] = []
  for (let i = 0; i < 40 && (i < 4 || new Set(titles).size < 2); i++) {
    const visitor = await (await browser.newContext()).newPage()
    await visitor.goto(`${site()}/prices`)
    await visitor.getByRole('button', { name: 'Yes, remember' }).click()
    const shown = async () => {
      await visitor.evaluate(
        ([app, k]) => {
          const script = Object.assign(document.createElement('script'), { src: `${app}/w/cavlin.js` })
          script.dataset.point = k
          document.querySelector('main')!.prepend(script)
        },
        [demo().url, key] as const,
      )
      return (await visitor.locator(`[data-cavlin=${key}] .cv-title`).first().textContent())!
    }
    titles.push(await shown())
    await visitor.reload()
    expect(await shown()).toBe(titles.at(-1))
    await visitor.context().close()
  }
  expect(new Set(titles)).toEqual(new Set([name, 'Another title']))
  await page.getByRole('button', { name: 'Keep wording B' }).click()
  await expect(page.getByRole('alert').getByText('Edition 2 is live.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Try another wording' })).toBeVisible()
  expect((await (await page.request.get(`${demo().url}/w/points/${key}`)).json()) as { title: string; trial?: string }).toMatchObject({
    title: 'Another title',
  })
})
