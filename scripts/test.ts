import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join, relative } from 'node:path'
import { build } from './build'
import { chromium, postgresPrograms } from './debian'
import { demoFile, openHouse } from './house'
import type { Place } from './place'
import { root } from './prepare.mjs'
import { Stop } from './say'
import { placeToTry } from './try-place'

// npm test [-- part…]: lint, types, core, house, e2e; all of them without a word.
const PARTS = ['lint', 'types', 'core', 'house', 'e2e']
const wanted = process.argv.slice(2).filter(a => PARTS.includes(a))
const parts = wanted.length ? wanted : PARTS

let passed = 0
let failed = 0
/** By name, to be read where the whole has ended. */
const failures: string[] = []
/** Those that failed beside all others and passed when they ran again by themselves. */
const upset: string[] = []
/** What is to run again by itself when all else has ended. */
const again: (() => Promise<void>)[] = []
/** What runs on our behalf must not go on without us. */
const children = new Set<ChildProcess>()
const houses: { stop?: () => Promise<void>; data: string }[] = []
process.on('SIGINT', () => void stopped())
process.on('SIGTERM', () => void stopped())

/** Runs a command. What it says is in sight at once, or, where others speak meanwhile, when it has ended. */
function show(command: string, args: string[], env: NodeJS.ProcessEnv = {}, later = false): Promise<number> {
  return new Promise(done => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: later ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1', ...env },
    })
    children.add(child)
    let said = ''
    for (const stream of [child.stdout, child.stderr])
      stream?.on('data', (text: Buffer) => {
        said += text.toString()
      })
    const end = (code: number) => {
      children.delete(child)
      if (later) process.stdout.write(said)
      done(code)
    }
    child.on('error', () => end(127))
    child.on('close', code => end(code ?? 1))
  })
}

/** A check that passes or fails as a whole. */
async function whole(name: string, ...commands: string[][]): Promise<void> {
  let code = 0
  for (const args of commands) code ||= await show(process.execPath, args, {}, true)
  console.log(`--- ${name}: ${code === 0 ? 'passed' : 'failed'}`)
  if (code === 0) passed++
  else {
    failed++
    failures.push(name)
  }
}

/** What a runner says of its tests. */
interface Counted {
  good: number
  bad: number
  /** Those that failed, by file and name. */
  names: string[]
  /** A property found something that does not hold: no machine is to blame, and another run would draw other values. */
  isProven?: boolean
}
interface Runner {
  name: string
  report: string
  read: (report: never) => Counted
  env: NodeJS.ProcessEnv
  args: string[]
  /** How to run once more those that failed, and no others: what to say, and at least how many tests that runs. */
  onceMore: (names: string[]) => { args: string[]; atLeast: number }[]
}
/** Runs what counts its own tests. A runner that says nothing of them has failed. */
async function countedOnce(runner: Runner, args: string[], later: boolean): Promise<Counted> {
  rmSync(runner.report, { force: true })
  const code = await show(process.execPath, args, runner.env, later)
  const said = existsSync(runner.report)
    ? runner.read(JSON.parse(readFileSync(runner.report, 'utf8')) as never)
    : { good: 0, bad: 0, names: [] }
  const mute = (code !== 0 || said.good === 0) && said.bad === 0
  return mute ? { ...said, bad: 1, names: [`${runner.name}: the runner ended with ${code}`] } : said
}
/** What failed beside everything else gets a second run by itself, at the end, and is named whatever comes of it. */
async function counted(runner: Runner, later: boolean): Promise<void> {
  if (!later) console.log(`\n--- ${runner.name}`)
  const first = await countedOnce(runner, runner.args, later)
  console.log(`--- ${runner.name}: ${first.good} passed, ${first.bad} failed`)
  passed += first.good
  if (
    !first.bad ||
    first.isProven ||
    first.bad > MOST_AGAIN ||
    first.names.length !== first.bad ||
    first.names[0]!.startsWith(runner.name)
  ) {
    failed += first.bad
    failures.push(...first.names)
    return
  }
  again.push(async () => {
    for (const { args, atLeast } of runner.onceMore(first.names)) {
      console.log(`\n--- ${runner.name}, by themselves, once more`)
      const { good, bad, names } = await countedOnce(runner, args, false)
      const missing = Math.max(0, atLeast - good - bad)
      passed += good
      failed += bad + missing
      failures.push(...names, ...(missing ? [`${runner.name}: ${missing} did not run again`] : []))
    }
    upset.push(...first.names.filter(n => !failures.includes(n)))
  })
}
/** More than so many are not upset by a busy machine: they have a cause. */
const MOST_AGAIN = 40

/** How many houses the interface's tests share, one for each of Playwright's workers. */
const FOR_INTERFACE = 2
interface TestHouse {
  place: Place
  env: NodeJS.ProcessEnv
}

/**
 * A house for tests, with a shorter history. Tests stand for many senders; the one that tries the limits is a sender of its own.
 * @param like the house whose history is taken over; without one it is lived through, and a copy kept for others
 */
async function houseForTests(like?: TestHouse): Promise<TestHouse> {
  const place = await placeToTry(root)
  const own: (typeof houses)[number] = { data: place.data }
  houses.push(own)
  const copyOf = (at: Place) => join(at.data, 'filled.sql')
  const house = await openHouse(place, {
    demo: { days: 60, perDay: 7 },
    ...(like ? { like: { place: like.place, copy: copyOf(like.place) } } : { keepCopy: copyOf(place) }),
    opening: all => {
      own.stop = all
    },
    env: {
      CAVLIN_TRUST_PROXY: '1',
      CAVLIN_LIMIT_ENTRIES: '200',
      CAVLIN_LIMIT_READS: '5000',
      CAVLIN_LIMIT_SIGN_INS: '5000',
      CAVLIN_LIMIT_MAILS_DOMAIN: '100000',
      CAVLIN_LIMIT_MAILS_SENDER: '100000',
    },
  })
  return {
    place,
    env: { CAVLIN_TEST_DEMO: demoFile(place.data), CAVLIN_TEST_CLUSTER: house.databaseUrl, CAVLIN_TEST_ADMIN: house.adminUrl },
  }
}

/** Several houses of one history. One by one: each looks for ports that are free. */
async function housesForTests(n: number): Promise<TestHouse[]> {
  const all: TestHouse[] = []
  while (all.length < n) all.push(await houseForTests(all[0]))
  return all
}

/** What a runner is told of the houses that its workers share. */
const told = (own: TestHouse[]): NodeJS.ProcessEnv =>
  Object.fromEntries(Object.keys(own[0]!.env).map(name => [name, own.map(h => h.env[name]).join()]))

/** Waits for all, also when one of them fails. @throws what the first failed with */
async function all(runs: (Promise<unknown> | false)[]): Promise<void> {
  for (const run of await Promise.allSettled(runs)) if (run.status === 'rejected') throw run.reason
}

/** Somebody ended us in the midst: what did not run has not passed. */
function stopped(): Promise<never> {
  failed++
  for (const child of children) child.kill('SIGTERM')
  return finish()
}

async function finish(): Promise<never> {
  // What was to run again and did not has failed.
  failed += again.length
  await Promise.all(houses.map(house => house.stop?.()))
  for (const { data } of houses) rmSync(data, { recursive: true, force: true })
  if (upset.length) console.log(`\nFailed beside all others, and passed by themselves:\n${upset.map(f => `  ${f}`).join('\n')}`)
  if (failures.length) console.log(`\nWhat failed:\n${failures.map(f => `  ${f}`).join('\n')}`)
  console.log(`\n${passed} passed, ${failed} failed`)
  process.exit(failed || !passed ? 1 : 0)
}

interface VitestReport {
  numPassedTests: number
  testResults: {
    name: string
    status: string
    message?: string
    assertionResults: { status: string; fullName: string; failureMessages?: string[] }[]
  }[]
}
interface PlaywrightSuite {
  file: string
  specs: { title: string; ok: boolean }[]
  suites?: PlaywrightSuite[]
}
const failedIn = (suite: PlaywrightSuite): string[] => [
  ...suite.specs.filter(s => !s.ok).map(s => `${suite.file}: ${s.title}`),
  ...(suite.suites ?? []).flatMap(failedIn),
]

/** Tests of some projects of `vitest.config.ts`. */
const runVitest = (name: string, projects: string[], env: NodeJS.ProcessEnv, later: boolean) => {
  const report = join(root, `test-results/${projects[0]}.json`)
  const run = ['node_modules/vitest/vitest.mjs', 'run', ...projects.flatMap(project => ['--project', project])]
  return counted(
    {
      name,
      report,
      env: { ...env, CAVLIN_TEST_REPORT: report },
      args: run,
      onceMore: names => {
        // A file that failed before any of its tests runs again as a whole.
        const files = names.filter(n => n.endsWith(WHOLE_FILE)).map(fileOf)
        const tests = names.filter(n => !files.includes(fileOf(n)))
        const pattern = `^(${tests.map(n => n.slice(fileOf(n).length + 2).replace(/[^\w ]/g, '.')).join('|')})$`
        return [
          ...(files.length ? [{ args: [...run, ...files], atLeast: files.length }] : []),
          ...(tests.length ? [{ args: [...run, ...new Set(tests.map(fileOf)), '-t', pattern], atLeast: tests.length }] : []),
        ]
      },
      read: (r: VitestReport) => {
        const names = r.testResults.flatMap(file => {
          const bad = file.assertionResults.filter(t => t.status === 'failed').map(t => t.fullName)
          return (bad.length || file.status !== 'failed' ? bad : [WHOLE_FILE]).map(n => `${relative(root, file.name)}: ${n}`)
        })
        const isProven = r.testResults.some(file =>
          file.assertionResults.some(t => t.failureMessages?.some(m => m.includes('Property failed'))),
        )
        return { good: r.numPassedTests, bad: names.length, names, isProven }
      },
    },
    later,
  )
}
const fileOf = (name: string) => name.split(': ')[0]!
/** Stands where a file failed and none of its tests did. */
const WHOLE_FILE = 'the file as a whole'
const runPlaywright = (env: NodeJS.ProcessEnv, later: boolean) => {
  const run = ['node_modules/@playwright/test/cli.js', 'test', ...process.argv.slice(2).filter(a => a.startsWith('-'))]
  return counted(
    {
      name: 'The interface',
      report: join(root, 'test-results/playwright.json'),
      env,
      args: run,
      onceMore: names => [{ args: [...run, '--last-failed', '--workers', '1'], atLeast: names.length }],
      read: (r: { stats: { expected: number; unexpected: number; flaky: number }; suites: PlaywrightSuite[] }) => {
        const names = r.suites.flatMap(failedIn)
        return { good: r.stats.expected, bad: r.stats.unexpected + r.stats.flaky, names }
      },
    },
    later,
  )
}

try {
  const has = (part: string) => parts.includes(part)
  // Whatever reads our TypeScript looks there for how.
  if (!existsSync(join(root, '.nuxt/tsconfig.app.json')))
    await show(process.execPath, ['node_modules/nuxt/bin/nuxt.mjs', 'prepare'], {}, true)
  // All runs side by side that does not need one another: what waits for a disk, a browser or the clock, each on a house of its own.
  const still = async () => {
    if (has('core')) await runVitest('Computation', ['core'], {}, parts.length > 1)
    if (has('lint'))
      await whole(
        'Lint, the walls of the house, and how code is laid out',
        ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0'],
        ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '**/*.{ts,mts,mjs,js,vue}'],
      )
  }
  const busy = async () => {
    const onHouse = has('house') || has('e2e')
    // Debian's packages one after the other: two that install at once shut each other out.
    const packages = async () => {
      if (onHouse) await postgresPrograms()
      if (has('e2e')) await chromium()
    }
    await all([packages(), onHouse && build(root)])
    const toOpen = (has('e2e') ? FOR_INTERFACE : 0) + (has('house') ? 1 : 0)
    const onHouses = async () => {
      const open = await housesForTests(toOpen)
      await all([
        has('e2e') && runPlaywright(told(open.slice(0, FOR_INTERFACE)), has('house')),
        has('house') && runVitest('Database and routes', ['house', 'apart'], told(open.slice(-1)), false),
        // What lives through histories of its own begins once those that others wait for are there.
        has('house') && runVitest('What breaks, and how it mends itself', ['own-house'], {}, true),
      ])
    }
    await all([
      toOpen > 0 && onHouses(),
      // After building, which writes the types of what is found by name. `nuxt typecheck` would read all that is shared four times.
      has('types') &&
        whole(
          'Types',
          ['node_modules/vue-tsc/bin/vue-tsc.js', '-p', '.nuxt/tsconfig.app.json', '--noEmit'],
          ['node_modules/typescript/bin/tsc', '-p', '.nuxt/tsconfig.node.json', '--noEmit'],
          ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.node.json'],
        ),
    ])
  }
  await all([still(), busy()])
  for (const run of again.splice(0)) await run()
} catch (error) {
  failed++
  console.error(`\n${error instanceof Stop ? error.message : (error as Error).stack}`)
}
await finish()
