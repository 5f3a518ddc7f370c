import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Readable, Writable } from 'node:stream'
import { CHROMIUM } from '../scripts/chromium'

/**
 * A browser that is driven through a pipe by the Chrome DevTools Protocol, with nothing switched on but what is asked for.
 * A test runner watches requests and errors, for which the engine keeps a stack of each call: that alone costs as much
 * as a small script.
 */
export async function bareBrowser() {
  const folder = mkdtempSync(join(tmpdir(), 'bench-'))
  const child = spawn(CHROMIUM.executablePath, [...CHROMIUM.args, '--remote-debugging-pipe', `--user-data-dir=${folder}`, 'about:blank'], {
    stdio: ['ignore', 'ignore', 'ignore', 'pipe', 'pipe'],
  })
  const [into, from] = [child.stdio[3] as Writable, child.stdio[4] as Readable]
  const waiting = new Map<number, { done: (result: never) => void; failed: (error: Error) => void }>()
  let last = 0
  let rest = ''
  from.setEncoding('utf8')
  from.on('data', (text: string) => {
    const parts = (rest + text).split('\0')
    rest = parts.pop()!
    for (const part of parts) {
      const { id, result, error } = JSON.parse(part) as { id?: number; result: never; error?: { message: string } }
      const asked = id === undefined ? undefined : waiting.get(id)
      if (!asked) continue
      waiting.delete(id!)
      if (error) asked.failed(new Error(error.message))
      else asked.done(result)
    }
  })
  const ask = <T = object>(method: string, params: object = {}, sessionId?: string): Promise<T> =>
    new Promise((done, failed) => {
      waiting.set(++last, { done, failed })
      into.write(`${JSON.stringify({ id: last, method, params, ...(sessionId && { sessionId }) })}\0`)
    })
  return {
    /** A page of its own, in a window that nothing else shares. */
    async page() {
      const { browserContextId } = await ask<{ browserContextId: string }>('Target.createBrowserContext')
      const { targetId } = await ask<{ targetId: string }>('Target.createTarget', {
        url: 'about:blank',
        browserContextId,
        width: 1280,
        height: 800,
      })
      const { sessionId } = await ask<{ sessionId: string }>('Target.attachToTarget', { targetId, flatten: true })
      return {
        ask: <T = object>(method: string, params: object = {}) => ask<T>(method, params, sessionId),
        close: () => ask('Target.disposeBrowserContext', { browserContextId }),
      }
    },
    async close() {
      const gone = new Promise(done => child.once('exit', done))
      await ask('Browser.close').catch(() => child.kill())
      await gone
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
