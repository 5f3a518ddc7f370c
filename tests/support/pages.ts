import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import AxeBuilder from '@axe-core/playwright'
import type { Locator, Page } from '@playwright/test'
import { cookieOf, demo } from './house'

/** Signs in by cookie, which is quicker than by hand. */
export async function signIn(page: Page, who: string, path = '/'): Promise<void> {
  const [name, value] = (await cookieOf(who)).split('=', 2) as [string, string]
  await page.context().addCookies([{ name, value, url: demo().url, httpOnly: true, sameSite: 'Lax' }])
  await page.goto(demo().url + path)
}

/** Waits until nothing moves or fades any more: a text that is half there has another contrast. */
const settled = (page: Page): Promise<void> =>
  page.evaluate(async () => {
    for (let tries = 0; tries < 20; tries++) {
      const moving = document
        .getAnimations()
        .filter(a => a.playState === 'running' && a.effect?.getComputedTiming().iterations !== Infinity)
      if (!moving.length) return
      await Promise.race([Promise.allSettled(moving.map(a => a.finished)), new Promise(done => setTimeout(done, 200))])
    }
  })

/** What axe finds wrong with what is on the screen: nothing, if all is well. @param rules only these */
export async function axe(page: Page, rules?: string[]): Promise<string[]> {
  // What begins to fade while it is looked at (a word whose time is over) would be measured half there.
  await page.emulateMedia({ reducedMotion: 'reduce' })
  // What has been scrolled under the bar at the top is not too small, but out of sight.
  await page.evaluate(() => scrollTo(0, 0))
  await settled(page)
  // All frames are ours: no page of its own is needed to put together what they say.
  // Naming all that is well takes axe half of its time.
  const builder = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] })
  const { violations } = await (
    rules ? builder.withRules(rules) : builder.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
  ).analyze()
  return violations.flatMap(v => v.nodes.map(n => `${v.id}: ${n.target.join(' ')} — ${n.failureSummary?.split('\n')[1]?.trim()}`))
}

/** What axe finds as it is, and in the dark, where only the colours are others. */
export async function axeInBoth(page: Page): Promise<string[]> {
  // Of rows that are all alike a dozen tell as much as a hundred.
  await page.evaluate(() => {
    const sheet = new CSSStyleSheet()
    // Colours that pass into others would have to be waited for, twice on each screen.
    sheet.replaceSync(`tbody tr:nth-child(n+13), ul > li:nth-child(n+13), ol > li:nth-child(n+13) { display: none !important }
      *, *::before, *::after { transition: none !important }`)
    document.adoptedStyleSheets = [sheet]
  })
  const turn = (dark: boolean) => page.evaluate(dark => void document.documentElement.classList.toggle('dark', dark), dark)
  const light = await axe(page)
  await turn(true)
  const dark = await axe(page, ['color-contrast'])
  await turn(false)
  return [...light, ...dark.map(found => `dark: ${found}`)]
}

/** Notes what goes wrong on a page while it is looked at. */
export async function watched(page: Page): Promise<string[]> {
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' })
  const errors: string[] = []
  page.on('pageerror', e => errors.push(e.message))
  page.on('console', m => m.type() === 'error' && !m.text().includes('401') && errors.push(m.text()))
  return errors
}

/** Whether something sticks out to the side. */
export const overflow = (page: Page): Promise<number> =>
  page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)

/** What sticks out of the sheet that it stands on, or is wider than the screen; what scrolls by itself may hold more. */
export const outside = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('main *')]
      .filter(e => {
        const sheet = e.parentElement?.closest('.sheet') ?? document.documentElement
        const scrolls = (up: HTMLElement | null): boolean =>
          up !== null && (getComputedStyle(up).overflowX !== 'visible' || (up !== sheet && scrolls(up.parentElement)))
        const box = e.getBoundingClientRect()
        return box.width > 1 && box.right > sheet.getBoundingClientRect().right + 1 && !scrolls(e.parentElement)
      })
      .slice(0, 3)
      .map(e => `${e.tagName.toLowerCase()}.${e.className} “${(e.textContent ?? '').trim().slice(0, 30)}”`),
  )

/** A page of somebody else's, on an origin of its own. */
export async function otherSite(html: string, headers: Record<string, string> = {}): Promise<{ url: string; close: () => void }> {
  const server = createServer((_, answer) => answer.writeHead(200, { 'content-type': 'text/html; charset=utf-8', ...headers }).end(html))
  await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/`, close: () => server.close() }
}

const STEPS = 12
/** Under what stands at the top of the screen nothing can be dropped. */
const BAR = 90
const between = (from: { x: number; y: number }, to: { x: number; y: number }, n: number) => ({
  x: from.x + ((to.x - from.x) * n) / STEPS,
  y: from.y + ((to.y - from.y) * n) / STEPS,
})
/** Drags a grip to just inside the top of something, as far as that is in sight, as a hand does it: with a mouse, or with a finger. */
export async function drag(page: Page, grip: Locator, over: Locator, by: 'mouse' | 'finger' = 'mouse'): Promise<void> {
  await grip.evaluate(e => e.scrollIntoView({ block: 'center' }))
  const [held, there] = [(await grip.boundingBox())!, (await over.boundingBox())!]
  const [from, to] = [
    { x: held.x + held.width / 2, y: held.y + held.height / 2 },
    { x: there.x + 20, y: Math.max(there.y + 8, BAR) },
  ]
  const finger = by === 'finger' ? await page.context().newCDPSession(page) : null
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', at?: { x: number; y: number }) =>
    finger!.send('Input.dispatchTouchEvent', { type, touchPoints: at ? [at] : [] })
  if (finger) await touch('touchStart', from)
  else {
    await page.mouse.move(from.x, from.y)
    await page.mouse.down()
  }
  for (let n = 1; n <= STEPS; n++) {
    const at = between(from, to, n)
    await (finger ? touch('touchMove', at) : page.mouse.move(at.x, at.y))
    await page.waitForTimeout(40)
  }
  await page.waitForTimeout(150)
  await (finger ? touch('touchEnd') : page.mouse.up())
}
