import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { chromium, type Page } from '@playwright/test'
import type { ArchiveLine } from '#core/archive'
import { connect } from '#db/client'
import { importArchive } from '#server/archive/import'
import { firm } from '../demo/firm'
import { QUIZ } from '../demo/quizzes'
import { CHROMIUM } from '../scripts/chromium'
import type { House } from '../scripts/house'
import { entriesOf, PLAIN, type Kind } from './entries'
import { load, median } from './load'

const THROTTLE = 4
const CONNECTIONS = 16
const [WARM_SECONDS, SECONDS, ROUNDS] = [8, 6, 3]

const SUITS: Kind = {
  name: 'QUIZ',
  aim: '',
  answers: n => ({
    sector: ['school', 'restaurant', 'private'][n % 3]!,
    crops: 'leaves',
    place: 'roof',
    load: 'no',
    size: String(10 + (n % 200)),
    first_name: 'Bench',
    email: `bench-quiz-${process.pid}-${n}@bench.example`,
  }),
}

/** What a quiz costs: its weight and its steps on a customer's page, and its entries beside a form's. */
export async function benchQuiz(house: House): Promise<void> {
  const size = (file: string) => gzipSync(readFileSync(join(house.place.root, '.output/public/w', file)), { level: 9 }).length
  const script = ['cavlin.js', 'parts/mount.js', 'parts/quiz.js'].reduce((sum, file) => sum + size(file), 0)
  const definition = gzipSync(await (await fetch(`${house.place.url}/w/points/quiz_suits`)).text()).length
  console.log(
    `QUIZ      script ${script} bytes gzipped with the loader (aim: at most 16384), with the quiz's definition ${script + definition}`,
  )

  const browser = await chromium.launch({ ...CHROMIUM })
  const [shifts, steps]: [number[], number[]] = [[], []]
  try {
    for (const width of [1280, 390])
      for (let look = 0; look < 3; look++) {
        const page = await browser.newPage({ viewport: { width, height: 800 } })
        await walk(page, `http://127.0.0.1:${house.place.ports.site}/which-room`, shifts, steps)
        await page.close()
      }
  } finally {
    await browser.close()
  }
  console.log(
    `NEXT      ${median(steps).toFixed(0)} ms from the press to the next question drawn, ${Math.max(...steps).toFixed(0)} at most of ${steps.length}, at ${THROTTLE}-fold throttling (aim: 50)`,
  )
  console.log(`SHIFT     ${Math.max(...shifts).toFixed(4)} at most between questions, of what stands outside the quiz and in it (aim: 0)`)

  const sql = connect(house.databaseUrl, { max: 2 })
  await importArchive(sql, [alike()])
  await sql.end()
  const address = (key: string) => `${house.place.url}/w/points/${key}/entries`
  const urls = { form: address('form_visit'), alike: address(ALIKE), quiz: address(QUIZ.suits) }
  const next = { form: entriesOf(PLAIN), alike: entriesOf({ ...SUITS, name: 'ALIKE' }), quiz: entriesOf(SUITS) }
  const rates: Record<keyof typeof urls, number[]> = { form: [], alike: [], quiz: [] }
  const kinds = Object.keys(urls) as (keyof typeof urls)[]
  for (const kind of kinds) await load(urls[kind], WARM_SECONDS, CONNECTIONS, next[kind])
  for (let round = 0; round < ROUNDS; round++)
    for (const kind of kinds) {
      const l = await load(urls[kind], SECONDS, CONNECTIONS, next[kind])
      rates[kind].push(l.perSecond)
      console.log(
        `  round ${round + 1}, ${kind.padEnd(5)}  ${l.perSecond.toFixed(0).padStart(5)}/s   p50 ${l.p50} ms   p99 ${l.p99} ms${l.failed ? `   ${l.failed} FAILED (${l.why})` : ''}`,
      )
      await new Promise(r => setTimeout(r, 2000))
    }
  const times = (than: number[]) => (median(than) / median(rates.quiz)).toFixed(2)
  console.log(
    `FINISHED  a quiz costs ${times(rates.alike)} times a form's entry that asks and does the same (aim: at most 1.30), and ${times(rates.form)} times one that mails nothing`,
  )
}

const ALIKE = 'form_alike'
/** The quiz as a form: the same questions, the same tag, label and mail, and nothing made of the answers. */
function alike(): ArchiveLine {
  const line = firm(new Date().toISOString()).find(l => l.kind === 'point' && l.key === QUIZ.suits) as Extract<
    ArchiveLine,
    { kind: 'point' }
  >
  const {
    quiz: _,
    display: __,
    ...definition
  } = line.definition as {
    quiz: object
    display: object
    questions: object[]
    actions: { kind: string; text?: string; subject?: string }[]
  }
  const plain = <T extends object>(one: T): T => ({ ...one, quiz: null })
  return {
    ...line,
    key: ALIKE,
    slug: 'alike',
    name: 'The quiz as a form',
    definition: {
      ...definition,
      questions: definition.questions.map(q => ({ ...plain(q), ...('choices' in q && { choices: (q.choices as object[]).map(plain) }) })),
      actions: definition.actions.flatMap(({ when: ___, ...a }: { kind: string; when?: unknown }) =>
        a.kind === 'mail'
          ? [
              {
                ...a,
                subject: 'Your room',
                text: 'Hello {{lead.first_name}},\n\nyou asked which growing room suits you. One of us writes to you.',
              },
            ]
          : [a],
      ),
    },
  } as ArchiveLine
}

/** Goes through the quiz; what moved, and how long each step took. Moves count also where a press was just before them. */
async function walk(page: Page, address: string, shifts: number[], steps: number[]): Promise<void> {
  await page.addInitScript(() => {
    const w = window as { shifted?: number }
    w.shifted = 0
    new PerformanceObserver(list =>
      list.getEntries().forEach(e => {
        w.shifted! += (e as unknown as { value: number }).value
      }),
    ).observe({ type: 'layout-shift', buffered: true })
  })
  await page.goto(address)
  const quiz = page.locator('[data-cavlin-place]')
  await quiz.getByRole('button', { name: 'Go on' }).waitFor()
  await quiz.scrollIntoViewIfNeeded()
  await page.waitForTimeout(400)
  await page.evaluate(() => {
    ;(window as { shifted?: number }).shifted = 0
  })
  const session = await page.context().newCDPSession(page)
  await session.send('Emulation.setCPUThrottlingRate', { rate: THROTTLE })
  for (const answer of ['A restaurant or hotel', 'Leaves to cut', 'On a roof', 'Not yet']) {
    await quiz.getByRole('radio', { name: answer }).check()
    await page.waitForTimeout(300)
    steps.push(
      await quiz.getByRole('button', { name: 'Go on' }).evaluate(async (button: HTMLElement) => {
        const since = performance.now()
        button.click()
        // Behind a frame: what the press changed was drawn in it.
        await new Promise<void>(drawn =>
          requestAnimationFrame(() => {
            const { port1, port2 } = new MessageChannel()
            port1.onmessage = () => drawn()
            port2.postMessage(0)
          }),
        )
        return performance.now() - since
      }),
    )
    await page.waitForTimeout(300)
  }
  shifts.push(await page.evaluate(() => (window as { shifted?: number }).shifted!))
}
