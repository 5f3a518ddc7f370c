import type { Page } from '@playwright/test'
import { expect, test } from '../support/test'
import { demo, eventually, member, send, signedIn, somebody } from '../support/house'
import { signIn } from '../support/pages'

/** Ten people who wait for Mireille, all by the name of `word`. */
async function tenWaiting(word: string): Promise<string[]> {
  const mireille = await signedIn('mireille')
  const { members } = (await (await mireille('/api/team/house')).json()) as { members: { id: string; name: string }[] }
  const me = members.find(m => m.name.startsWith('Mireille'))!.id
  for (let i = 0; i < 10; i++)
    expect(
      (
        await send('form_visit', {
          email: somebody(word),
          first_name: `${word}${i}`,
          last_name: 'Fennimore',
          company: 'Fennimore Academy',
          sector: 'school',
          size: 'large',
          timing: 'this_season',
        })
      ).status,
    ).toBe(201)
  const ids = await eventually(async () => {
    const { leads } = (await (await mireille(`/api/team/leads?search=${word}&size=50`)).json()) as { leads: { id: string }[] }
    return leads.length === 10 && leads.map(l => l.id)
  })
  for (const id of ids) await mireille(`/api/team/leads/${id}/owner`, 'PUT', { owner: me })
  return ids
}

/** Presses keys one after the other, and sees that the focus is never nowhere. */
function keysOn(page: Page) {
  let pressed = 0
  const check = async () => {
    await expect.poll(() => page.evaluate(() => document.activeElement !== document.body && document.activeElement !== null)).toBe(true)
  }
  return {
    async press(...keys: string[]) {
      for (const key of keys) {
        await page.keyboard.press(key)
        pressed++
        await check()
      }
    },
    taken: () => {
      const n = pressed
      pressed = 0
      return n
    },
  }
}

test('a salesperson’s morning: ten leads are called, noted, given a next step and a status without the mouse, whatever happens in between', async ({
  page,
  context,
}) => {
  test.setTimeout(480_000)
  const word = `Mor${Date.now().toString(36)}`
  const ids = await tenWaiting(word)
  await signIn(page, 'mireille', `/?lead=${ids[0]}`)
  const article = page.getByRole('article')
  const keys = keysOn(page)
  const noteBox = page.getByRole('textbox', { name: 'Note' })
  for (const [n, id] of ids.entries()) {
    if (n) await page.goto(`${demo().url}/?lead=${id}`)
    await expect(article).toContainText(word)
    await page.locator(`#today-${id} a`).focus()
    keys.taken()
    const said = `Spoke about the roof, ${word} ${n}: "40 m²" & <glass>`
    await keys.press('n')
    await page.keyboard.type(said)
    if (n === 2) {
      await page.reload()
      await expect(article).toContainText(word)
      await expect(noteBox).toHaveValue(said)
      await noteBox.focus()
    }
    await keys.press('Escape')
    if (n === 4) {
      await context.setOffline(true)
      await keys.press('c', 'r')
      await expect(page.getByText('Cavlin cannot be reached.')).toBeVisible()
      await expect(noteBox).toHaveValue(said)
      await context.setOffline(false)
    }
    if (n === 6) {
      await context.clearCookies()
      await keys.press('c', 'r')
      await expect(page.getByRole('dialog', { name: 'Your session has ended' })).toBeVisible()
      await expect(page.getByLabel('Password')).toBeFocused()
      await page.keyboard.type(member('mireille').password)
      await page.keyboard.press('Enter')
      await expect(page.getByRole('dialog')).toHaveCount(0)
      await expect(noteBox).toHaveValue(said)
      await article.focus()
    }
    await keys.press('c', 'r')
    await expect(article.locator('.said').getByText(said)).toBeVisible()
    await expect(noteBox).toHaveValue('')
    if (n === 3) {
      const jonah = await signedIn('jonah')
      await jonah(`/api/team/leads/${id}/notes`, 'POST', { text: `Jonah knows them, ${word}` })
      await expect(article.getByText(`Jonah knows them, ${word}`)).toBeVisible()
    }
    await keys.press('s')
    await page.keyboard.type(`Send drawing ${n}`)
    await keys.press('Enter')
    await expect(article.locator('.step').getByText(`Send drawing ${n}`)).toBeVisible()
    await keys.press('e')
    await page.keyboard.type('In')
    await keys.press('Enter')
    await expect(article.getByRole('combobox', { name: 'Status' })).toContainText('In talks')
    await keys.press('j')
    expect(keys.taken()).toBeLessThanOrEqual(12 + (n === 4 || n === 6 ? 2 : 0))
  }
  const mireille = await signedIn('mireille')
  for (const [n, id] of ids.entries()) {
    const { lead, timeline } = (await (await mireille(`/api/team/leads/${id}`)).json()) as {
      lead: { status: string; nextStep: { text: string }; waitingSince: string | null }
      timeline: { kind: string; payload: { text?: string } }[]
    }
    expect([lead.status, lead.nextStep.text, lead.waitingSince]).toEqual(['in_talks', `Send drawing ${n}`, null])
    expect(timeline.filter(l => l.kind === 'call').map(l => l.payload.text)).toEqual([
      `Spoke about the roof, ${word} ${n}: "40 m²" & <glass>`,
    ])
  }
})

test('what was done by mistake is taken back as a whole: the lead is on Today again, with its clock and its next step', async ({
  page,
}) => {
  const word = `Und${Date.now().toString(36)}`
  const [id] = await tenWaiting(word)
  await signIn(page, 'mireille', `/follow-up/leads/${id}`)
  await page.getByRole('heading', { level: 1 }).click()
  await page.keyboard.press('e')
  await page.getByRole('option', { name: 'Lost' }).click()
  const dialog = page.getByRole('dialog', { name: /Lost/ })
  await dialog.getByRole('button', { name: 'Set Lost' }).click()
  await expect(dialog.getByRole('alert')).toContainText('Say why')
  await dialog.getByLabel('Why?').fill('Wrong planet')
  await dialog.getByRole('button', { name: 'Set Lost' }).click()
  await expect(page.getByText(/^Lost .*: Wrong planet\.$/)).toBeVisible()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByRole('combobox', { name: 'Status' })).toContainText('Untouched')
  await page.goto(demo().url)
  await expect(page.locator(`#today-${id}`)).toBeVisible()
})

test('on the board a lead is moved on by keyboard and dragged to an end that asks, and many are handed over from the table', async ({
  page,
}) => {
  const word = `Brd${Date.now().toString(36)}`
  const ids = await tenWaiting(word)
  await signIn(page, 'mireille', '/follow-up/board?owner=all')
  await page.locator('.board li').first().waitFor()
  const card = page.locator('.board section li').first()
  const link = card.locator('a')
  const name = await link.innerText()
  await link.focus()
  await page.keyboard.press('Shift+ArrowRight')
  await expect(page.locator('.said').filter({ hasText: 'Reaching out' })).toBeVisible()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.locator('.board section').first().locator('li').first()).toContainText(name.split('\n')[0]!)
  await page
    .locator('.board section li')
    .first()
    .dragTo(page.locator('.end').filter({ hasText: 'Lost' }))
  await expect(page.getByRole('dialog', { name: /Lost/ })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.goto(`${demo().url}/follow-up?search=${word}`)
  await expect(page.locator('.leads tbody tr')).toHaveCount(10)
  await page.getByRole('checkbox', { name: 'Choose all on this page' }).click()
  await expect(page.getByText('10 chosen')).toBeVisible()
  await page.getByRole('button', { name: 'Owner …' }).click()
  await page.getByRole('dialog').getByRole('combobox').click()
  await page.getByRole('option', { name: 'Jonah Birkett' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Hand over' }).click()
  await expect(page.getByText('Handed to Jonah Birkett: 10 leads')).toBeVisible()
  await expect(page.locator('.leads tbody tr').filter({ hasText: 'Jonah Birkett' })).toHaveCount(10)
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByText(/taken back/)).toBeVisible()
  await expect(page.locator('.leads tbody tr').filter({ hasText: 'Mireille Vauclair' })).toHaveCount(10)
  expect(ids).toHaveLength(10)
})
