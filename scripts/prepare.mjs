import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

// Runs before any package is there: only what Node itself brings.

export const root = dirname(dirname(fileURLToPath(import.meta.url)))

/** Stops with one sentence, for mistakes that the person at the keyboard can mend. */
export function giveUp(sentence) {
  console.error(`\n${sentence}\n`)
  process.exit(1)
}

/** Installs the packages of the lock file and mends them as `patches/` says, unless these very ones are installed. */
export async function packages() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19))
    giveUp(`Cavlin needs Node 20.19 or newer; this is ${process.versions.node}. Install a newer Node and start again.`)
  const stamp = join(root, 'node_modules', '.cavlin-lock')
  const sum = createHash('sha256')
  for (const file of [
    'package-lock.json',
    ...readdirSync(join(root, 'patches'))
      .sort()
      .map(name => join('patches', name)),
  ])
    sum.update(readFileSync(join(root, file)))
  const lock = sum.digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return
  const started = Date.now()
  console.log('Installing packages …')
  const waiting = setInterval(() => console.log(`  still installing, ${Math.round((Date.now() - started) / 1000)} s`), 15_000)
  const code = await new Promise(done => {
    const npm = spawn('npm', ['ci', '--loglevel=error', '--no-fund', '--no-audit'], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1', NUXT_TELEMETRY_DISABLED: '1' },
    })
    npm.on('error', () => done(127))
    npm.on('exit', done)
  })
  clearInterval(waiting)
  if (code === 127) giveUp('npm is missing. It comes with Node; install Node 20 with npm and start again.')
  if (code !== 0)
    giveUp('The packages could not be installed; npm says why above. Check the network and the space on disk, then start again.')
  writeFileSync(stamp, lock)
  console.log(`  installed in ${Math.round((Date.now() - started) / 1000)} s`)
}

/** Runs one of our TypeScript scripts in this process, now that the packages are there. */
export async function run(script) {
  process.env.TSX_TSCONFIG_PATH ??= join(root, 'tsconfig.node.json')
  const { register } = await import(pathToFileURL(join(root, 'node_modules/tsx/dist/esm/api/index.mjs')).href)
  register({ tsconfig: join(root, 'tsconfig.node.json') })
  return import(pathToFileURL(join(root, 'scripts', script)).href)
}
