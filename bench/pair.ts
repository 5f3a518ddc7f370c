import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { untilReady } from '../scripts/children'
import type { House } from '../scripts/house'
import { entriesOf, PLAIN } from './entries'
import { load, median } from './load'

const CONNECTIONS = 16
const WARM_SECONDS = 12
const SECONDS = 8
const ROUNDS = 3

/** Entries a second that two application processes on one database take in together, against one alone. */
export async function benchPair(house: House, port: number): Promise<void> {
  const second = twinOf(house.children.app.pid()!, port)
  const entry = entriesOf({ ...PLAIN, name: 'PAIR' })
  const urls = [house.place.url, `http://127.0.0.1:${port}`].map(base => `${base}/w/points/form_visit/entries`)
  const together = async (all: string[], seconds: number) => {
    const loads = await Promise.all(all.map(url => load(url, seconds, CONNECTIONS, entry)))
    // What the worker has still to mail must not weigh on the next round.
    await new Promise(r => setTimeout(r, 3000))
    return { perSecond: loads.reduce((sum, l) => sum + l.perSecond, 0), failed: loads.reduce((sum, l) => sum + l.failed, 0) }
  }
  try {
    await untilReady(`http://127.0.0.1:${port}/health`, 30, status => status === 200)
    for (const url of urls) await together([url], WARM_SECONDS)
    const ratios: number[] = []
    for (let round = 0; round < ROUNDS; round++) {
      const [one, two] = [await together(urls.slice(0, 1), SECONDS), await together(urls, SECONDS)]
      ratios.push(two.perSecond / one.perSecond)
      console.log(
        `  round ${round + 1}, one ${one.perSecond.toFixed(0)}/s, two ${two.perSecond.toFixed(0)}/s${one.failed + two.failed ? `   ${one.failed + two.failed} FAILED` : ''}`,
      )
    }
    console.log(`PAIR      two processes take in ${median(ratios).toFixed(2)} times as much as one (aim: at least 1.00)`)
  } finally {
    second.kill('SIGTERM')
  }
}

/** Another process like one that runs, which listens elsewhere. */
function twinOf(pid: number, port: number) {
  const of = (file: string) => readFileSync(`/proc/${pid}/${file}`, 'utf8').split('\0').filter(Boolean)
  const env = Object.fromEntries(of('environ').map(line => [line.slice(0, line.indexOf('=')), line.slice(line.indexOf('=') + 1)]))
  return spawn(process.execPath, of('cmdline').slice(1), {
    env: { ...env, NITRO_PORT: String(port), PORT: String(port) },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
}
