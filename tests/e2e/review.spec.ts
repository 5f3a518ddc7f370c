import type { ReviewList } from '#core/review'
import { ask, demo, eventually, readDatabase, send, somebody } from '../support/house'
import { axe, signIn } from '../support/pages'
import { expect, test } from '../support/test'

/** What is held, and who may be here twice, judged by keyboard. */
const leadsOf = async (email: string) =>
  (await ask<{ leads: { id: string; firstName: string }[] }>(`/api/v1/leads?email=${encodeURIComponent(email)}`)).leads
const tour = (email: string, people: string) => send('form_tour', { first_name: 'Tobias', email, people })

test('works through held entries by keyboard: lets in, refuses with a reason, takes both back, and judges several at once', async ({
  page,
}) => {
  const mails = ['a', 'b', 'c'].map(n => somebody(`tour-${n}`))
  for (const mail of mails) await tour(mail, '11')
  await signIn(page, 'orla', '/qualify/review')
  const row = (mail: string) => page.getByRole('listitem').filter({ hasText: mail })
  const inHand = page.getByRole('region', { name: 'The entry' })
  /** Keys are for the one in hand: it is there before one is pressed. */
  const take = async (mail: string) => {
    await row(mail).getByRole('link').click()
    await expect(row(mail).getByRole('link')).toHaveAttribute('aria-current', 'true')
  }
  await expect(row(mails[2]!)).toBeVisible()
  expect(await axe(page)).toEqual([])
  await take(mails[2]!)
  await expect(inHand).toContainText('“Winter tour” holds entries where this is so: How many of you? is at least 9.')
  await page.keyboard.press('l')
  await expect(page.getByText(`${mails[2]} is let in.`)).toBeVisible()
  // The next one is in hand; the first is on its way, and is taken back.
  await expect(inHand.getByRole('heading', { name: mails[2] })).toHaveCount(0)
  await page.getByRole('button', { name: 'Take it back' }).first().click()
  await expect(row(mails[2]!)).toContainText('By what it says, this form holds it.')
  await take(mails[1]!)
  await page.keyboard.press('r')
  const why = page.getByRole('dialog', { name: 'Why is it not taken in?' })
  await expect(why.getByRole('button', { name: 'A test of ours' })).toBeVisible()
  expect(await axe(page)).toEqual([])
  await page.keyboard.press('2')
  await expect(row(mails[1]!)).toContainText('Refused by Orla Penhaligon: A test of ours')
  await take(mails[2]!)
  await page.keyboard.press('x')
  await take(mails[0]!)
  await page.keyboard.press('x')
  await expect(page.getByRole('region', { name: 'Several' })).toContainText('2 entries are chosen')
  await page.keyboard.press('l')
  await expect(page.getByText('2 entries are let in.')).toBeVisible()
  await readDatabase(sql => sql`update entry set let_in_at = now() where let_in_at is not null`)
  for (const mail of [mails[0]!, mails[2]!])
    expect(
      (
        await eventually(async () => {
          const found = await leadsOf(mail)
          return found.length > 0 && found
        })
      )[0],
    ).toMatchObject({ firstName: 'Tobias' })
  await expect(row(mails[0]!)).toHaveCount(0)
  expect(await leadsOf(mails[1]!)).toEqual([])
})

test('two leads are compared line by line, joined, read as one by everybody, and taken apart', async ({ page }) => {
  const stem = somebody('odile.farnaby').replace('@guests.example', '')
  const [one, other] = [`${stem}@fernleigh.example`, `${stem}@fernleighs.example`]
  const visit = { sector: 'school', size: 'small', first_name: 'Odile', last_name: 'Farnaby', company: 'Fernleigh' }
  for (const [email, message] of [
    [one, 'A small house'],
    [other, 'A larger house'],
  ])
    await send('form_visit', { ...visit, email, message })
  const [[kept], [gone]] = [await leadsOf(one!), await leadsOf(other!)]
  await signIn(page, 'orla')
  await eventually(async () =>
    ((await (await page.request.get(`${demo().url}/api/team/review`)).json()) as ReviewList).items.some(
      i => i.kind === 'pair' && i.leads.every(l => [one, other].includes(l.email!)),
    ),
  )
  await page.goto(`${demo().url}/qualify/review?item=${encodeURIComponent([kept!.id, gone!.id].sort().join(' '))}`)
  const pair = page.getByRole('region', { name: 'Two leads side by side' })
  await expect(pair).toContainText('the same name at the same firm')
  expect(await axe(page)).toEqual([])
  await pair.getByRole('row').filter({ hasText: 'Message' }).getByText('A larger house').click()
  await page.keyboard.press('o')
  await expect(page.getByText('Odile Farnaby and Odile Farnaby are one lead now.')).toBeVisible()
  await expect.poll(async () => (await leadsOf(one!)).length + (await leadsOf(other!)).length).toBe(1)
  // By the address of the one that went one comes to the one that stays.
  const [stays, went] = (await leadsOf(one!)).length ? [kept!.id, gone!.id] : [gone!.id, kept!.id]
  await page.goto(`${demo().url}/follow-up/leads/${went}`)
  await expect(page).toHaveURL(new RegExp(`leads/${stays}`))
  const lead = page.getByRole('article')
  await expect(lead).toContainText('joined this lead with Odile Farnaby')
  await expect(lead.getByRole('region', { name: 'What we know' })).toContainText('A larger house')
  await expect(lead).toContainText('A small house')
  expect(await axe(page)).toEqual([])
  await lead.getByRole('button', { name: /^Take Odile Farnaby apart/ }).click()
  await expect(page).toHaveURL(new RegExp(`leads/${went}`))
  await expect(page.getByRole('article')).toContainText('took this lead and Odile Farnaby apart again')
  for (const email of [one!, other!]) expect(await leadsOf(email)).toHaveLength(1)
})

test('whom nobody found alike is joined from the lead’s page; on a phone one is seen at a time', async ({ page }) => {
  const [one, other] = [somebody('prue'), somebody('quill')]
  await send('form_guide', { sector: 'school', first_name: 'Prudence', email: one })
  await send('form_guide', { sector: 'school', first_name: 'Quilla', email: other })
  const [[lead], [twin]] = [await leadsOf(one), await leadsOf(other)]
  await signIn(page, 'jonah', `/follow-up/leads/${lead!.id}`)
  await page.getByRole('button', { name: 'Same person as …' }).click()
  const dialog = page.getByRole('dialog', { name: 'Who else is Prudence?' })
  await dialog.getByRole('combobox').fill(other)
  await page.getByRole('option', { name: /Quilla/ }).click()
  await expect(dialog.getByRole('region', { name: 'Two leads side by side' })).toContainText('Quilla')
  expect(await axe(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Two people' }).click()
  await expect(dialog).toHaveCount(0)
  expect([lead!.id, twin!.id].every(Boolean)).toBe(true)
  await tour(somebody('phone'), '10')
  await page.setViewportSize({ width: 390, height: 800 })
  await page.goto(`${demo().url}/qualify/review`)
  await page.getByRole('listitem').first().getByRole('link').click()
  await expect(page.getByRole('button', { name: 'Back to the list' })).toBeVisible()
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
  expect(await axe(page)).toEqual([])
  await page.getByRole('button', { name: 'Back to the list' }).click()
  await expect(page.getByRole('listitem').first()).toBeVisible()
})
