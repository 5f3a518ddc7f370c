import { spawn, type ChildProcess } from 'node:child_process'

/** A process of ours that is started again when it ends by itself. */
export interface Kept {
  name: string
  /** @returns how it ended: by itself, or killed since it took too long */ stop: () => Promise<'ended' | 'killed'>
  pid: () => number | undefined
}

/**
 * Starts a Node process and keeps it running. It ends with us, even if we are killed.
 * @param args after `node`
 */
export function keep(
  name: string,
  args: string[],
  options: {
    cwd: string
    env: NodeJS.ProcessEnv
    onGiveUp: (name: string) => void
    /** Reads along what it says. */ onOutput?: (text: string) => void
  },
): Kept {
  let child: ChildProcess
  let stopping = false
  let quickEnds = 0
  let again: NodeJS.Timeout | undefined

  function start() {
    const began = Date.now()
    child = spawn(process.execPath, ['--import', './scripts/follow-parent.mjs', ...args], {
      // Its own group: Ctrl-C reaches us, and we end the children in order.
      cwd: options.cwd,
      env: options.env,
      detached: true,
      stdio: options.onOutput ? ['ignore', 'pipe', 'pipe', 'ipc'] : ['ignore', 'inherit', 'inherit', 'ipc'],
    })
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (text: Buffer) => options.onOutput!(text.toString()))
    child.once('exit', (code, signal) => {
      if (stopping) return
      quickEnds = Date.now() - began < 5000 ? quickEnds + 1 : 0
      if (quickEnds >= 6) return options.onGiveUp(name)
      console.error(`${name} ended (${signal ?? code}); starting it again.`)
      again = setTimeout(start, 300 * 2 ** quickEnds)
    })
  }
  start()
  return {
    name,
    pid: () => child.pid,
    async stop() {
      stopping = true
      clearTimeout(again)
      if (child.exitCode !== null || child.signalCode !== null) return 'ended'
      const ended = new Promise(done => child.once('exit', done))
      child.kill('SIGTERM')
      const slow = setTimeout(() => child.kill('SIGKILL'), 8000)
      await ended
      clearTimeout(slow)
      return child.signalCode === 'SIGKILL' ? 'killed' : 'ended'
    },
  }
}

/** Waits until an address answers with a wanted status. @throws after `seconds` */
export async function untilReady(url: string, seconds: number, good = (status: number) => status < 500): Promise<void> {
  for (const end = Date.now() + seconds * 1000; Date.now() < end;) {
    const answer = await fetch(url, { signal: AbortSignal.timeout(2000) }).catch(() => null)
    await answer?.body?.cancel()
    if (answer && good(answer.status)) return
    await new Promise(r => setTimeout(r, 150))
  }
  throw new Error(`${url} does not answer after ${seconds} s`)
}
