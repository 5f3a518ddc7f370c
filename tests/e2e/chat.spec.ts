import { blankQuestion } from '#core/points/definition'
import { expect, test, type Page } from '../support/test'
import { demo, readDatabase, somebody } from '../support/house'
import { alwaysThere, hoursAsBefore, liveChat } from '../support/live-chat'
import { axe, axeInBoth, otherSite, overflow, signIn } from '../support/pages'

const PNG = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==', 'base64')
const site = () => demo().standins.site
const agree = (page: Page) => page.getByRole('button', { name: 'Yes, remember' }).click()
const box = (page: Page) => page.getByRole('dialog', { name: 'Ask a grower' })
const log = (page: Page) => box(page).getByRole('log')

test('a visitor asks, one of us answers, each sees the other at once; over a reload, a second window, an end and a rating', async ({
  page,
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const visitor = await context.newPage()
  await visitor.goto(`${site()}/prices`)
  await agree(visitor)
  await visitor.getByRole('button', { name: 'Ask a grower' }).click()
  await expect(log(visitor)).toContainText('You can ask me anything')
  // By keyboard alone: what can be pressed is where the focus is.
  await expect(box(visitor).getByRole('button', { name: 'I am planning something' })).toBeFocused()
  const question = `Would it stand beside a weir? ${Date.now().toString(36)}`
  await box(visitor).getByRole('textbox', { name: 'Write a message' }).fill(question)
  await visitor.keyboard.press('Enter')
  await expect(log(visitor)).toContainText('I fetch one of the growers.')

  await signIn(page, 'mireille', '/follow-up/conversations')
  await page
    .getByRole('listitem')
    .filter({ hasText: question })
    .or(page.getByRole('listitem').filter({ hasText: 'Somebody' }))
    .first()
    .click()
  const [own] = await readDatabase(sql => sql<{ id: string }[]>`select conversation_id as id from message where text = ${question}`)
  await page.goto(`${demo().url}/follow-up/conversations?of=${own!.id}`)
  const talk = page.getByRole('region', { name: /^Conversation with/ })
  await expect(talk.getByRole('log')).toContainText(question)
  await talk.getByRole('textbox', { name: 'Answer' }).fill('Beside it, yes; not in it.')
  await page.keyboard.press('Enter')
  await expect(log(visitor)).toContainText('Beside it, yes; not in it.')
  await expect(log(visitor)).toContainText('Mireille Vauclair is here now.')
  await expect(page.getByRole('button', { name: /^With me/ })).toHaveAttribute('aria-pressed', 'true')

  await visitor.reload()
  await expect(log(visitor)).toContainText('Beside it, yes; not in it.')
  const second = await context.newPage()
  await second.goto(`${site()}/journal`)
  await expect(log(second)).toContainText(question)
  await box(second).getByRole('textbox', { name: 'Write a message' }).fill('Thank you.')
  await second.keyboard.press('Enter')
  await expect(log(visitor)).toContainText('Thank you.')
  await expect(talk.getByRole('log')).toContainText('Thank you.')

  // A note of ours stays among us.
  await talk.getByLabel('Only for colleagues').check()
  await talk.getByRole('textbox', { name: 'Note for colleagues' }).fill('Ask Jonah about the weir')
  await talk.getByRole('button', { name: 'Note it' }).click()
  await expect(talk).toContainText('Ask Jonah about the weir')

  await talk.getByRole('button', { name: 'End it' }).click()
  await expect(box(visitor)).toContainText('How was this conversation?')
  await expect(log(visitor)).not.toContainText('Ask Jonah')
  await box(visitor).getByRole('textbox', { name: 'Anything to add? (optional)' }).fill('Quick')
  await box(visitor).getByRole('button', { name: 'Good', exact: true }).click()
  await expect(log(visitor)).toContainText('Thank you.')
  await expect(talk).toContainText('They found it good: “Quick”')
  // Escape closes it, and the focus is where it was opened.
  await box(visitor).getByRole('button', { name: 'Begin a new one' }).focus()
  await visitor.keyboard.press('Escape')
  await expect(box(visitor)).toBeHidden()
  await expect(visitor.getByRole('button', { name: 'Ask a grower' })).toBeFocused()
  await context.close()
})

test('what was said without a line goes out later, once; without agreement nothing is kept; on a phone it fills the screen', async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 320, height: 640 } })
  const visitor = await context.newPage()
  await visitor.goto(`${site()}/prices`)
  await visitor.getByRole('button', { name: 'No, thank you' }).click()
  await visitor.getByRole('button', { name: 'Ask a grower' }).click()
  await expect(box(visitor).getByRole('button', { name: 'I have a question' })).toBeVisible()
  expect(await overflow(visitor)).toBe(0)
  const frame = (await box(visitor).boundingBox())!
  expect([Math.round(frame.x), Math.round(frame.width)]).toEqual([0, 320])
  await context.setOffline(true)
  const question = `Wherewithal ${Date.now().toString(36)}`
  await box(visitor).getByRole('textbox', { name: 'Write a message' }).fill(question)
  await visitor.keyboard.press('Enter')
  await expect(box(visitor)).toContainText('Not sent yet')
  await context.setOffline(false)
  await expect(log(visitor)).toContainText('I fetch one of the growers.')
  await expect(box(visitor)).not.toContainText('Not sent yet')
  expect(await readDatabase(sql => sql`select 1 from message where text = ${question}`)).toHaveLength(1)
  await visitor.setViewportSize({ width: 1280, height: 800 })
  expect(await axe(visitor)).toEqual([])
  expect(await visitor.evaluate(() => Object.keys(localStorage).filter(k => k.startsWith('cavlin')))).toEqual([])
  await visitor.reload()
  await visitor.getByRole('button', { name: 'Ask a grower' }).click()
  await expect(box(visitor).getByRole('button', { name: 'I have a question' })).toBeVisible()
  await expect(log(visitor)).not.toContainText(question)
  await context.close()
})

test('a flow asks in turn under a strict policy, checks an answer, and the entry stands with its owner', async ({ page, browser }) => {
  const chat = await liveChat(null)
  const home = demo().url
  const other = await otherSite(
    `<!doctype html><html lang="en"><title>Elsewhere</title><main><h1>Elsewhere</h1><script nonce="n1" src="${home}/w/cavlin.js" data-point="${chat.key}"></script></main></html>`,
    {
      'content-security-policy': `default-src 'none'; script-src 'nonce-n1' ${home}; connect-src ${home}; img-src ${home}; font-src ${home}`,
    },
  )
  const visitor = await (await browser.newContext()).newPage()
  const errors: string[] = []
  visitor.on('pageerror', e => errors.push(e.message))
  await visitor.goto(other.url)
  const window = visitor.getByRole('region', { name: 'Three questions' })
  await window.getByRole('textbox', { name: 'What are you planning?' }).fill('A shed of glass')
  await window.getByRole('button', { name: 'Send' }).click()
  await window.getByRole('button', { name: 'This year' }).click()
  await window.getByRole('textbox', { name: 'What may we call you?' }).fill('Philippa')
  await visitor.keyboard.press('Enter')
  await window.getByRole('textbox', { name: 'Where may we write to?' }).fill('philippa at home')
  await visitor.keyboard.press('Enter')
  await expect(window).toContainText('This is not a complete e-mail address')
  const email = somebody('talked')
  await window.getByRole('textbox', { name: 'Where may we write to?' }).fill(email)
  await visitor.keyboard.press('Enter')
  await expect(window).toContainText(`Did I get that right? “${email}”`)
  await window.getByRole('button', { name: 'Yes', exact: true }).click()
  await expect(window).toContainText('One of us is with you in a moment.')
  expect(errors).toEqual([])
  other.close()
  const [lead] = await readDatabase(sql => sql<{ id: string }[]>`select id from lead where email = ${email}`)
  await signIn(page, 'orla', `/follow-up/leads/${lead!.id}`)
  await expect(page.getByRole('heading', { level: 1, name: 'Philippa' })).toBeVisible()
  await expect(page.locator('.timeline')).toContainText('A shed of glass')
  await visitor.context().close()
})

test('a marketer writes a flow as a script, the graph follows and is changed, and talks to it before it is live', async ({ page }) => {
  await signIn(page, 'tamsin', '/capture/points')
  await page.getByRole('button', { name: 'New chat' }).click()
  await page.getByRole('dialog').getByText('Three questions').click()
  await page
    .getByRole('dialog')
    .getByLabel('What do you call it among yourselves?')
    .fill(`Chat by script ${Date.now().toString(36)}`)
  await page.getByRole('dialog').getByRole('button', { name: 'Make it' }).click()
  const script = page.getByRole('textbox', { name: 'The flow as a script' })
  await expect(script).toHaveValue(/hello: say Hello\. Three short questions/)
  await script.fill(`${await script.inputValue()}---\nextra: say\n  nonsense\n`)
  await expect(page.getByText(/^Line \d+: /).first()).toBeVisible()
  await script.fill(
    'hello: say Good day. Who builds here?\n  > I do\n    mail: ask email\n    take: do take in\n  > Nobody\nperson: hand over to plan: One moment.\n',
  )
  const graph = page.getByRole('region', { name: 'Graph' })
  await expect(graph.getByText('Good day. Who builds here?')).toBeVisible()
  await expect(graph.getByText('All 4 steps can be reached')).toBeVisible()
  // In the graph a step is chosen and changed: the script says the same.
  await graph.getByText('One moment.').click()
  const step = page.getByRole('region', { name: 'Step person' })
  await step.getByRole('textbox', { name: 'What is said' }).fill('A grower comes.')
  await expect(script).toHaveValue(/person: hand over to plan: A grower comes\./)
  await page.getByRole('button', { name: 'Rehearsal' }).click()
  const rehearsal = page.getByRole('region', { name: 'Rehearsal' })
  await rehearsal.getByRole('button', { name: 'I do' }).click()
  await rehearsal.getByRole('textbox', { name: 'Say something' }).fill('somebody@guests.example')
  await page.keyboard.press('Enter')
  await expect(rehearsal).toContainText('The answers would be taken in as an entry.')
  await expect(rehearsal).toContainText('A grower comes.')
  await expect(graph.locator('.step.lit')).toHaveCount(4)
  expect(await axeInBoth(page)).toEqual([])
  await page.getByRole('button', { name: 'Make it live', exact: true }).click()
  await expect(page.locator('#main').getByText('Edition 1 is live.')).toBeVisible()
})

test('what no note answers is listed, becomes a note in two clicks, and is answered from then on', async ({ page, browser }) => {
  const question = `May ferrets overwinter in it ${Date.now().toString(36)}`
  const visitor = await (await browser.newContext()).newPage()
  const asks = async () => {
    await visitor.goto(`${site()}/prices`)
    await visitor.getByRole('button', { name: 'Ask a grower' }).click()
    await box(visitor).getByRole('button', { name: 'I have a question' }).click()
    await expect(log(visitor)).toContainText('What would you like to know?')
    await box(visitor).getByRole('textbox', { name: 'Write a message' }).fill(question)
    await visitor.keyboard.press('Enter')
  }
  await asks()
  await expect(log(visitor)).toContainText('I fetch one of the growers.')
  await signIn(page, 'tamsin', '/capture/notes')
  const open = page.getByRole('region', { name: 'Left open' }).getByRole('listitem').filter({ hasText: question })
  await open.getByRole('button', { name: 'Make a note of it' }).click()
  await page.getByRole('textbox', { name: 'What is said' }).fill('Ferrets overwinter well at eight degrees.')
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(open).toHaveCount(0)
  await asks()
  await expect(log(visitor)).toContainText('Ferrets overwinter well at eight degrees.')
  await expect(log(visitor)).toContainText('Does that help?')
  await page.getByRole('button', { name: `Take ${question} out` }).click()
  await visitor.context().close()
})

test('whoever is on the site is spoken to first, and answers in their window', async ({ page, browser }) => {
  const context = await browser.newContext()
  const visitor = await context.newPage()
  await visitor.goto(`${site()}/?utm_source=spoken${Date.now().toString(36)}`)
  await agree(visitor)
  await visitor.goto(`${site()}/journal/winter-light`)
  const source = await visitor.evaluate(() => localStorage.getItem('cavlin.visit'))
  const campaign = /spoken\w+/.exec(decodeURIComponent(source ?? ''))![0]
  await signIn(page, 'mireille', '/capture/live')
  const here = page.locator('li', { hasText: `from ${campaign}` })
  await here.getByRole('button', { name: /^Speak to / }).click()
  await page.getByRole('textbox', { name: 'What you say' }).fill('Good day. The light is best before noon.')
  await page.getByRole('button', { name: 'Say it' }).click()
  await expect(page.getByRole('region', { name: /^Conversation with/ })).toContainText('The light is best before noon.')
  // Their next sign of life: another page.
  await visitor.goto(`${site()}/prices`)
  const words = visitor.getByRole('button', { name: /Mireille Vauclair: Good day\. The light is best before noon\./ })
  await words.click()
  await expect(log(visitor)).toContainText('The light is best before noon.')
  await box(visitor).getByRole('textbox', { name: 'Write a message' }).fill('I shall be there.')
  await visitor.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: /^Conversation with/ }).getByRole('log')).toContainText('I shall be there.')
  await context.close()
})

test.afterAll(hoursAsBefore)
test('on its own page: several of many, a file, a time to meet; then files both ways, and what went by mail', async ({ page, browser }) => {
  await alwaysThere('mireille')
  const chat = await liveChat(
    `rooms: ask rooms
plan: ask plan
mail: ask email
take: do take in
when: meet 30 minutes, 14 days: When shall we call?
  otherwise
    go to person
person: hand over to plan
`,
    d => {
      d.questions.push(
        blankQuestion({
          key: 'rooms',
          kind: 'some_of',
          label: 'What shall grow there?',
          choices: ['Tomatoes', 'Herbs', 'Orchids'].map(text => ({ value: text, text })),
        }),
        blankQuestion({ key: 'plan', kind: 'file', label: 'Have you got a plan?' }),
      )
    },
  )
  const visitor = await (await browser.newContext()).newPage()
  await visitor.goto(`${demo().url}/p/${chat.slug}`)
  const window = visitor.getByRole('region', { name: 'Three questions' })
  await window.getByLabel('Tomatoes').check()
  await window.getByLabel('Orchids').check()
  await window.getByRole('button', { name: 'Send' }).click()
  const said = window.getByRole('log')
  await expect(said).toContainText('Tomatoes, Orchids')
  await window
    .getByLabel('Have you got a plan?')
    .setInputFiles({ name: 'plan.png', mimeType: 'image/png', buffer: Buffer.from('not a picture') })
  await window.getByRole('button', { name: 'Send' }).click()
  await expect(window.getByRole('alert')).toContainText('“plan.png” cannot be taken')
  await window.getByLabel('Have you got a plan?').setInputFiles({ name: 'plan.png', mimeType: 'image/png', buffer: PNG })
  await window.getByRole('button', { name: 'Send' }).click()
  await expect(said.getByRole('img', { name: 'plan.png' })).toBeVisible()
  const email = somebody('page')
  await window.getByRole('textbox', { name: 'Where may we write to?' }).fill(email)
  await visitor.keyboard.press('Enter')
  await window
    .getByRole('button', { name: 'Yes', exact: true })
    .or(window.getByRole('button', { name: /\d{1,2}:\d\d/ }).first())
    .first()
    .click()
  await expect(said).toContainText('Agreed:')
  expect(await axe(visitor)).toEqual([])

  const [talk] = await readDatabase(
    sql => sql<{ id: string }[]>`select c.id from conversation c join lead l on l.id = c.lead_id where l.email = ${email}`,
  )
  await signIn(page, 'mireille', `/follow-up/conversations?of=${talk!.id}`)
  const ours = page.getByRole('region', { name: /^Conversation with/ })
  await expect(ours.getByRole('img', { name: 'plan.png' })).toBeVisible()
  await ours.getByRole('textbox', { name: 'Answer' }).fill('That would stand well.')
  await page.keyboard.press('Enter')
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), ours.getByRole('button', { name: 'File …' }).click()])
  await chooser.setFiles({ name: 'sketch.png', mimeType: 'image/png', buffer: PNG })
  await expect(said.getByRole('img', { name: 'sketch.png' })).toBeVisible()
  const [theirs] = await Promise.all([visitor.waitForEvent('filechooser'), window.getByRole('button', { name: 'Send a file' }).click()])
  await theirs.setFiles({ name: 'corner.png', mimeType: 'image/png', buffer: PNG })
  await expect(ours.getByRole('img', { name: 'corner.png' })).toBeVisible()

  await visitor.context().close()
  await ours.getByRole('textbox', { name: 'Answer' }).fill('We come on Monday.')
  await page.keyboard.press('Enter')
  await expect(ours.getByRole('log')).toContainText('We come on Monday.')
  await readDatabase(sql => sql`update message set at = at - interval '3 minutes' where conversation_id = ${talk!.id}`)
  await expect(ours.getByRole('log')).toContainText(`They had left; it went to ${email} by mail.`)
  expect(await axeInBoth(page)).toEqual([])
})
