import { spawn } from 'node:child_process'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { chromium } from './debian'
import { demoFile, openHouse, type House } from './house'
import { root } from './prepare.mjs'
import { Stop } from './say'
import { placeToTry } from './try-place'

// npm test [-- part…]: lint, types, core, house, e2e; all of them without a word.
const PARTS = ['lint', 'types', 'core', 'house', 'e2e']
const wanted = process.argv.slice(2).filter(a => PARTS.includes(a))
const parts = wanted.length ? wanted : PARTS

let passed = 0
let failed = 0
let house: House | undefined
let stop: (() => Promise<void>) | undefined
let data: string | undefined
process.on('SIGINT', () => void finish())
process.on('SIGTERM', () => void finish())

/** Runs a command with its output in sight. */
function show(command: string, args: string[], env: NodeJS.ProcessEnv = {}): Promise<number> {
  return new Promise((done) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1', ...env } })
    child.on('error', () => done(127))
    child.on('exit', code => done(code ?? 1))
  })
}

/** A check that passes or fails as a whole. */
async function whole(name: string, ...commands: string[][]): Promise<void> {
  console.log(`\n--- ${name}`)
  for (const args of commands) if (await show(process.execPath, args) !== 0) return void failed++
  passed++
}

/** A runner that counts its own tests. A runner that says nothing of them has failed. */
async function counted(name: string, args: string[], report: string, read: (report: never) => [number, number], env: NodeJS.ProcessEnv): Promise<void> {
  console.log(`\n--- ${name}`)
  rmSync(report, { force: true })
  const code = await show(process.execPath, args, env)
  const [good, bad] = existsSync(report) ? read(JSON.parse(readFileSync(report, 'utf8')) as never) : [0, 0]
  passed += good
  failed += bad + (code !== 0 && bad === 0 ? 1 : 0) + (code === 0 && good === 0 ? 1 : 0)
}

async function finish(): Promise<never> {
  await stop?.()
  if (data) rmSync(data, { recursive: true, force: true })
  console.log(`\n${passed} passed, ${failed} failed`)
  process.exit(failed || !passed ? 1 : 0)
}

try {
  if (parts.includes('lint')) await whole('Lint, and the walls of the house', ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0'])
  if (parts.includes('types')) await whole('Types', ['node_modules/nuxt/bin/nuxt.mjs', 'typecheck'], ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.node.json'])
  const env: NodeJS.ProcessEnv = {}
  if (parts.includes('house') || parts.includes('e2e')) {
    if (parts.includes('e2e')) await chromium()
    const place = await placeToTry(root)
    data = place.data
    // Tests stand for many senders; the one that tries the limits is a sender of its own.
    house = await openHouse(place, { demo: { days: 60, perDay: 7 }, env: { CAVLIN_TRUST_PROXY: '1', CAVLIN_LIMIT_ENTRIES: '200', CAVLIN_LIMIT_READS: '5000', CAVLIN_LIMIT_MAILS_DOMAIN: '100000', CAVLIN_LIMIT_MAILS_SENDER: '100000' }, opening: (all) => { stop = all } })
    env.CAVLIN_TEST_DEMO = demoFile(data)
    env.CAVLIN_TEST_CLUSTER = house.databaseUrl
    env.CAVLIN_TEST_ADMIN = house.adminUrl
  }
  const files = ['core', 'house'].filter(p => parts.includes(p)).map(p => `tests/${p}`)
  if (files.length) {
    await counted('Computation, database and routes', ['node_modules/vitest/vitest.mjs', 'run', ...files], join(root, 'test-results/vitest.json'),
      (r: { numPassedTests: number; numFailedTests: number; numFailedTestSuites: number }) => [r.numPassedTests, r.numFailedTests || r.numFailedTestSuites], env)
  }
  if (parts.includes('e2e')) {
    await counted('The interface', ['node_modules/@playwright/test/cli.js', 'test', ...process.argv.slice(2).filter(a => a.startsWith('-'))], join(root, 'test-results/playwright.json'),
      (r: { stats: { expected: number; unexpected: number; flaky: number } }) => [r.stats.expected, r.stats.unexpected + r.stats.flaky], env)
  }
} catch (error) {
  failed++
  console.error(`\n${error instanceof Stop ? error.message : (error as Error).stack}`)
}
await finish()
