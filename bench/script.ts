import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import type { House } from '../scripts/house'
import { CHROMIUM_ARGS } from './chromium'

/** What a customer's page loads, and whether anything on it jumps. */
export async function benchScript(house: House): Promise<void> {
  const script = gzipSync(readFileSync(join(house.place.root, '.output/public/w/cavlin.js')), { level: 9 }).length
  const definition = gzipSync(await (await fetch(`${house.place.url}/w/points/form_visit`)).text()).length
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_ARGS })
  const shifts: number[] = []
  try {
    for (const width of [1280, 768, 390, 360]) {
      for (const path of ['/contact', '/prices', '/journal/winter-light', '/growing-houses']) {
        const page = await browser.newPage({ viewport: { width, height: 800 } })
        await page.addInitScript(() => {
          const w = window as { shifted?: number }
          w.shifted = 0
          new PerformanceObserver(list => list.getEntries().forEach((e) => { w.shifted! += (e as unknown as { value: number }).value })).observe({ type: 'layout-shift', buffered: true })
        })
        await page.route('**/w/points/**', async (route) => {
          await new Promise(r => setTimeout(r, 500))
          await route.continue()
        })
        await page.goto(`http://127.0.0.1:${house.place.ports.site}${path}`)
        await page.evaluate(() => document.querySelector('script[data-point]')!.scrollIntoView({ block: 'center' }))
        await page.locator('[data-cavlin] button').waitFor()
        await page.waitForTimeout(200)
        shifts.push(await page.evaluate(() => (window as { shifted?: number }).shifted!))
        await page.close()
      }
    }
  } finally {
    await browser.close()
  }
  console.log(`SCRIPT    ${script} bytes gzipped, with the form's definition ${script + definition} (aim: at most 12288)`)
  console.log(`LAYOUT    shift ${Math.max(...shifts)} at most, on ${shifts.length} pages (aim: 0)`)
}
