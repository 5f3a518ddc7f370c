import { spawn, type ChildProcess, type SpawnOptions } from 'node:child_process'

export interface Ran {
  code: number | null
  output: string
}

const running = new Set<ChildProcess>()
// What we leave before its end must not go on without us.
process.on('exit', () => running.forEach(child => child.kill('SIGTERM')))

/** Runs a command to its end and collects what it says. */
export function run(command: string, args: string[], options: SpawnOptions = {}): Promise<Ran> {
  return new Promise(done => {
    let output = ''
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], ...options })
    running.add(child)
    child.once('close', () => running.delete(child))
    child.stdout?.on('data', d => (output += d))
    child.stderr?.on('data', d => (output += d))
    child.on('error', error => done({ code: 127, output: error.message }))
    child.on('close', code => done({ code, output }))
  })
}
