import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import type { House } from '../scripts/house'
import { CHROMIUM_ARGS } from './chromium'

/** What a customer's page loads, and whether anything on it jumps. */
export async function benchScript(house: House): Promise<void> {
  const size = (file: string) => gzipSync(readFileSync(join(house.place.root, '.output/public/w', file)), { level: 9 }).length
  const loader = size('cavlin.js')
  // What a form on a page fetches beside it: the part that draws, and what that imports.
  const script = loader + size('parts/mount.js') + imports(readFileSync(join(house.place.root, '.output/public/w/parts/mount.js'), 'utf8')).reduce((sum, file) => sum + size(`parts/${file}`), 0)
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
  console.log(`LOADER    ${loader} bytes gzipped (aim: at most 4096)`)
  console.log(`SCRIPT    ${script} bytes gzipped, with the form's definition ${script + definition} (aim: at most 12288)`)
  console.log(`LAYOUT    shift ${Math.max(...shifts)} at most, on ${shifts.length} pages (aim: 0)`)
}

/** What a module imports at once. */
const imports = (module: string): string[] => [...module.matchAll(/(?:from|import)"\.\/([^"]+)"/g)].map(m => m[1]!)
