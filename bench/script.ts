import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import type { House } from '../scripts/house'
import { CHROMIUM } from '../scripts/chromium'
import { bareBrowser } from './pipe'
import { median } from './load'

/** What a customer's page loads, and whether anything on it jumps. */
export async function benchScript(house: House): Promise<void> {
  const size = (file: string) => gzipSync(readFileSync(join(house.place.root, '.output/public/w', file)), { level: 9 }).length
  const loader = size('cavlin.js')
  // What a form on a page fetches beside it: the part that draws, and what that imports.
  const script =
    loader +
    size('parts/mount.js') +
    imports(readFileSync(join(house.place.root, '.output/public/w/parts/mount.js'), 'utf8')).reduce(
      (sum, file) => sum + size(`parts/${file}`),
      0,
    )
  const definition = gzipSync(await (await fetch(`${house.place.url}/w/points/form_visit`)).text()).length
  const browser = await chromium.launch({ ...CHROMIUM })
  const shifts: number[] = []
  try {
    for (const width of [1280, 768, 390, 360]) {
      for (const path of ['/contact', '/prices', '/journal/winter-light', '/growing-houses']) {
        const page = await browser.newPage({ viewport: { width, height: 800 } })
        await page.addInitScript(() => {
          const w = window as { shifted?: number }
          w.shifted = 0
          new PerformanceObserver(list =>
            list.getEntries().forEach(e => {
              w.shifted! += (e as unknown as { value: number }).value
            }),
          ).observe({ type: 'layout-shift', buffered: true })
        })
        await page.route('**/w/points/**', async route => {
          await new Promise(r => setTimeout(r, 500))
          await route.continue()
        })
        await page.goto(`http://127.0.0.1:${house.place.ports.site}${path}`)
        await page.evaluate(() => document.querySelector('script[data-point]')!.scrollIntoView({ block: 'center' }))
        await page.locator('[data-cavlin] .cv-send').waitFor()
        await page.waitForTimeout(200)
        shifts.push(await page.evaluate(() => (window as { shifted?: number }).shifted!))
        await page.close()
      }
    }
  } finally {
    await browser.close()
  }
  const page = `http://127.0.0.1:${house.place.ports.site}/journal`
  const work = await workOf(page)
  const bare = await withoutTag(page, workOf)
  console.log(
    `TRAIL     ${(median(work) - median(bare)).toFixed(1)} ms of script on a page where nothing shows, by a visitor who agreed, at ${THROTTLE}-fold throttling: ${median(work).toFixed(1)} (${Math.min(...work).toFixed(1)} to ${Math.max(...work).toFixed(1)}) with the tag, ${median(bare).toFixed(1)} without (aim: 20 ms)`,
  )
  console.log(`LOADER    ${loader} bytes gzipped (aim: at most 4096)`)
  console.log(`SCRIPT    ${script} bytes gzipped, with the form's definition ${script + definition} (aim: at most 12288)`)
  console.log(`LAYOUT    shift ${Math.max(...shifts)} at most, on ${shifts.length} pages (aim: 0)`)
}

const THROTTLE = 4
const LOOKS = 15
/** Script time, in ms, that a page takes of a visitor who agreed, in its first seconds: the page's own script included. */
async function workOf(address: string): Promise<number[]> {
  const browser = await bareBrowser()
  const work: number[] = []
  try {
    for (let n = 0; n < LOOKS; n++) {
      const page = await browser.page()
      await page.ask('Emulation.setUserAgentOverride', {
        userAgent: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Safari/537.36',
      })
      await page.ask('Page.addScriptToEvaluateOnNewDocument', {
        source: `localStorage.setItem('larkmoss.asked', 'agree');localStorage.setItem('cavlin.visitor', '3f0c1f8e-8a53-4c7e-9d58-0f6e5a2b7c11')`,
      })
      await page.ask('Performance.enable')
      await page.ask('Emulation.setCPUThrottlingRate', { rate: THROTTLE })
      await page.ask('Page.navigate', { url: address })
      await new Promise(done => setTimeout(done, 3000))
      const { metrics } = await page.ask<{ metrics: { name: string; value: number }[] }>('Performance.getMetrics')
      work.push(1000 * metrics.find(m => m.name === 'ScriptDuration')!.value)
      await page.close()
    }
  } finally {
    await browser.close()
  }
  return work
}

/** The same of the page as it is without our tag. */
async function withoutTag(address: string, measure: typeof workOf): Promise<number[]> {
  const html = (await (await fetch(address)).text()).replace(/<script[^>]*cavlin\.js[^>]*><\/script>/g, '')
  const server = createServer((_, answer) => answer.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(html))
  await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
  try {
    return await measure(`http://127.0.0.1:${(server.address() as AddressInfo).port}/journal`)
  } finally {
    server.closeAllConnections()
    server.close()
  }
}

/** What a module imports at once. */
const imports = (module: string): string[] => [...module.matchAll(/(?:from|import)"\.\/([^"]+)"/g)].map(m => m[1]!)
