import { readFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { chromium, type Page } from '@playwright/test'
import { blankDefinition, blankQuestion } from '#core/points/definition'
import { demoFile, type House } from '../scripts/house'
import { CHROMIUM } from '../scripts/chromium'
import { median, quantile } from './load'

const QUESTIONS = 30
const KEYSTROKES = 60
const THROTTLE = 4

/**
 * How fast the preview follows a keystroke in a form of 30 questions, beside a page that does nothing
 * but draw the same HTML anew; what the script costs a customer's page; how large a hosted page is.
 */
export async function benchEditor(house: House): Promise<void> {
  const demo = JSON.parse(readFileSync(demoFile(house.place.data), 'utf8')) as {
    url: string
    members: { email: string; password: string }[]
  }
  const browser = await chromium.launch({ ...CHROMIUM })
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const { email, password } = demo.members.find(m => m.email.startsWith('tamsin'))!
    const as = page.context().request
    await as.post(`${demo.url}/api/session`, { data: { email, password } })
    const { id } = (await (await as.post(`${demo.url}/api/team/points`, { data: { name: 'Bench' } })).json()) as { id: string }
    const definition = blankDefinition('Bench')
    const kinds = ['short_text', 'one_of', 'long_text', 'number', 'yes_no', 'date'] as const
    for (let i = 1; i < QUESTIONS; i++) {
      const kind = kinds[i % kinds.length]!
      definition.questions.push(
        blankQuestion({
          key: `q${i}`,
          kind,
          label: `Question ${i}, and what do you say?`,
          help: 'A few words are enough.',
          choices: kind === 'one_of' ? ['One', 'Two', 'Three'].map(t => ({ value: t, text: t })) : [],
        }),
      )
    }
    const { revision } = (await (
      await as.put(`${demo.url}/api/team/points/${id}`, { data: { revision: 1, name: 'Bench', definition } })
    ).json()) as { revision: number }
    const { slug, key } = (await (await as.post(`${demo.url}/api/team/points/${id}/publish`, { data: { revision } })).json()) as {
      slug: string
      key: string
    }

    await page.goto(`${demo.url}/capture/points/${id}`)
    await page.getByRole('button', { name: 'Question 1, and what do you say?', exact: true }).click()
    const field = page.locator('#q-q1-label')
    await field.focus()
    const ours = await keystrokes(page, '[aria-label=Preview]', '#q-q1-label')
    const markup = await page.evaluate(() => document.querySelector('[aria-label=Preview]')!.shadowRoot!.querySelector('.stage')!.innerHTML)
    await page.setContent(
      `<textarea id="q"></textarea><div aria-label="Preview"></div><script>const host=document.querySelector('[aria-label=Preview]');const root=host.attachShadow({mode:'open'});root.innerHTML='<div class=stage></div>';const html=${JSON.stringify(markup).replace(/</g, '\\u003c')};q.oninput=()=>{root.firstChild.innerHTML=html.replace('Question 1,',q.value+',')}</script>`,
    )
    await page.locator('#q').focus()
    const floor = await keystrokes(page, '[aria-label=Preview]', '#q')
    console.log(
      `  ${KEYSTROKES} keystrokes, ${QUESTIONS} questions: median ${median(ours).toFixed(1)} ms, floor (the same HTML drawn anew by a bare page) ${median(floor).toFixed(1)} ms`,
    )
    console.log(
      `KEYSTROKE 95% within ${quantile(ours, 0.95).toFixed(1)} ms (aim: 50 ms), ${(median(ours) / median(floor)).toFixed(1)} times the floor`,
    )

    const hosted = await (await fetch(`${demo.url}/p/ask-for-a-visit`)).text()
    const large = await (await fetch(`${demo.url}/p/${slug}`)).text()
    console.log(
      `HOSTED    ${hosted.length} bytes, ${gzipSync(hosted).length} gzipped; with ${QUESTIONS} questions ${large.length} (aim: at most 30720, without pictures)`,
    )

    const work: number[] = []
    for (let n = 0; n < 7; n++)
      work.push(
        await scriptWork(
          await browser.newPage(),
          `<!doctype html><title>t</title><body><script async src="${demo.url}/w/cavlin.js" data-point="${n ? 'form_visit' : key}"></script>`,
        ),
      )
    console.log(
      `RENDERING ${median(work.slice(1)).toFixed(1)} ms of script until the form stands, at ${THROTTLE}-fold throttling (aim: 50 ms); with ${QUESTIONS} questions ${work[0]!.toFixed(1)} ms`,
    )
  } finally {
    await browser.close()
  }
}

/** Times from a keystroke to the preview having changed, in ms. */
async function keystrokes(page: Page, preview: string, field: string): Promise<number[]> {
  await page.evaluate(`(() => {
    window.times = []
    let at = 0
    const root = document.querySelector(${JSON.stringify(preview)}).shadowRoot
    document.querySelector(${JSON.stringify(field)}).addEventListener('beforeinput', () => { at = performance.now() }, true)
    new MutationObserver(() => { if (at) { window.times.push(performance.now() - at); at = 0 } }).observe(root, { childList: true, subtree: true, characterData: true })
  })()`)
  for (let n = 0; n < KEYSTROKES; n++) {
    await page.keyboard.type('x')
    await page.waitForTimeout(40)
  }
  return (await page.evaluate('window.times')) as number[]
}

/** Script time, in ms, that a page spends until the form stands in it. */
async function scriptWork(page: Page, html: string): Promise<number> {
  const client = await page.context().newCDPSession(page)
  await client.send('Performance.enable')
  await client.send('Emulation.setCPUThrottlingRate', { rate: THROTTLE })
  await page.setContent(html)
  await page.locator('form.cv').waitFor()
  const { metrics } = await client.send('Performance.getMetrics')
  await page.close()
  return 1000 * metrics.find(m => m.name === 'ScriptDuration')!.value
}
