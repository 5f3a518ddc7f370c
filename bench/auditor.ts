import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { chromium } from '@playwright/test'
import lighthouse, { type Flags } from 'lighthouse'
import { CHROMIUM } from '../scripts/chromium'
import { demoFile, type House } from '../scripts/house'
import { median } from './load'

const RUNS = 5
const CATEGORIES = ['performance', 'accessibility', 'best-practices', 'seo'] as const
type Category = (typeof CATEGORIES)[number]

interface Audited {
  scores: Record<Category, number>
  content: number
  shift: number
  bytes: number
  errors: string[]
  wanting: string[]
}

/**
 * What a browser's own auditor (Lighthouse, on its simulated phone) says of the pages that visitors see, and of Today behind the
 * sign-in. The floor is a page with a heading and nothing else, from a bare server.
 */
export async function benchAuditor(house: House): Promise<void> {
  const { url, ports } = house.place
  const floorServer = createServer((_, answer) =>
    answer
      .writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
      .end(
        '<!doctype html><html lang="en"><meta name="viewport" content="width=device-width"><title>Floor</title><meta name="description" content="A floor"><main><h1>Floor</h1></main></html>',
      ),
  )
  await new Promise<void>(done => floorServer.listen(0, '127.0.0.1', done))
  const port = ports.app + 9
  const browser = await chromium.launch({ ...CHROMIUM, args: [...CHROMIUM.args, `--remote-debugging-port=${port}`] })
  try {
    const floor = await audited('floor', `http://127.0.0.1:${(floorServer.address() as AddressInfo).port}/`, port)
    const pages = [
      ['form page', `${url}/p/ask-for-a-visit`],
      ['landing page', `${url}/p/what-a-growing-house-costs`],
    ] as const
    for (const [name, address] of pages) tell(name, await audited(name, address, port), floor)
    tell('Today', await audited('Today', `${url}/`, port, { extraHeaders: { Cookie: await signedIn(url, house) } }), floor)
  } finally {
    await browser.close()
    floorServer.close()
  }
}

async function audited(name: string, address: string, port: number, more: Flags = {}): Promise<Audited> {
  const runs: Audited[] = []
  for (let n = 0; n < RUNS; n++) {
    const result = await lighthouse(address, { port, logLevel: 'silent', output: 'json', onlyCategories: [...CATEGORIES], ...more })
    const { categories, audits, runtimeError } = result!.lhr
    if (runtimeError) throw new Error(`${name}: ${runtimeError.message}`)
    const items = (id: string) => (audits[id]?.details as { items?: { description?: string }[] } | undefined)?.items ?? []
    runs.push({
      scores: Object.fromEntries(CATEGORIES.map(c => [c, Math.round((categories[c]?.score ?? 0) * 100)])) as Record<Category, number>,
      content: audits['largest-contentful-paint']?.numericValue ?? Number.NaN,
      shift: audits['cumulative-layout-shift']?.numericValue ?? Number.NaN,
      bytes: audits['total-byte-weight']?.numericValue ?? Number.NaN,
      errors: items('errors-in-console').map(i => i.description ?? ''),
      wanting: Object.values(audits)
        .filter(a => a.score !== null && a.score < 0.9 && !['informative', 'manual', 'notApplicable'].includes(a.scoreDisplayMode))
        .map(a => a.id),
    })
  }
  const of = (pick: (a: Audited) => number) => median(runs.map(pick))
  const last = runs.at(-1)!
  return {
    scores: Object.fromEntries(CATEGORIES.map(c => [c, of(a => a.scores[c])])) as Record<Category, number>,
    content: of(a => a.content),
    shift: of(a => a.shift),
    bytes: of(a => a.bytes),
    errors: last.errors,
    wanting: last.wanting,
  }
}

function tell(name: string, { scores, content, shift, bytes, errors, wanting }: Audited, floor: Audited): void {
  console.log(
    `AUDITOR   ${name}: speed ${scores.performance} (floor ${floor.scores.performance}), accessible ${scores.accessibility}, practices ${scores['best-practices']}, search ${scores.seo}; content after ${Math.round(content)} ms, ${(content / floor.content).toFixed(2)} times the floor’s ${Math.round(floor.content)}; shift ${shift.toFixed(3)}; ${Math.round(bytes / 1024)} kB; ${errors.length} errors in the console (medians of ${RUNS})`,
  )
  if (wanting.length) console.log(`          wanting: ${wanting.join(', ')}`)
  errors.forEach(e => console.log(`          console: ${e}`))
}

async function signedIn(url: string, house: House): Promise<string> {
  const { members } = JSON.parse(readFileSync(demoFile(house.place.data), 'utf8')) as { members: { email: string; password: string }[] }
  const { email, password } = members.find(m => m.email.startsWith('mireille'))!
  const answer = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: url },
    body: JSON.stringify({ email, password }),
  })
  return answer.headers
    .getSetCookie()
    .map(c => c.split(';')[0])
    .join('; ')
}
