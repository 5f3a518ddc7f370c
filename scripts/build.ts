import { createHash } from 'node:crypto'
import { copyFileSync, cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { build as bundle } from 'esbuild'
import { run } from './run'
import { step, Stop } from './say'

/** What the build is made from. */
const SOURCES = [
  'app',
  'core',
  'db',
  'server',
  'widget',
  'public',
  'scripts/build.ts',
  'scripts/component-styles.ts',
  'nuxt.config.ts',
  'package-lock.json',
]

/** Builds the application and the visitors' script, unless it was built from these very sources. */
export async function build(root: string): Promise<void> {
  const stamp = join(root, '.output', 'built-from')
  const sum = sourcesSum(root)
  const current = () => existsSync(stamp) && readFileSync(stamp, 'utf8') === sum
  if (current()) return copyMigrations(root)
  const release = await onlyOne(root)
  try {
    if (current()) return
    await step('Building the application (about a minute)', async () => {
      copyFonts(root)
      await buildWidget(root)
      const { code, output } = await run(process.execPath, ['node_modules/nuxt/bin/nuxt.mjs', 'build'], {
        cwd: root,
        env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production', CI: '1' },
      })
      if (code !== 0) throw new Stop(`The application could not be built:\n${output.trim().split('\n').slice(-30).join('\n')}`)
      await buildBack(root)
      writeFileSync(stamp, sum)
    })
    copyMigrations(root)
  } finally {
    release()
  }
}

/** Where what runs beside the application stands when it is compiled. */
export const BACK = '.output/back'

/** The worker, and what brings the database up to date; packages are taken from where they are installed. */
async function buildBack(root: string): Promise<void> {
  const tsconfigRaw = { compilerOptions: { experimentalDecorators: true, target: 'es2022' } } as const
  await bundle({
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    packages: 'external',
    sourcemap: true,
    logLevel: 'error',
    tsconfigRaw,
    absWorkingDir: root,
    entryPoints: ['server/jobs/worker.ts', 'server/jobs/learner.ts', 'server/jobs/migrate.ts'],
    outdir: join(root, BACK),
    outExtension: { '.js': '.mjs' },
  })
}

/** Migrations are read when they are carried out. */
function copyMigrations(root: string): void {
  const to = join(root, BACK, 'migrations')
  rmSync(to, { recursive: true, force: true })
  cpSync(join(root, 'db/migrations'), to, { recursive: true })
}

/** The fonts that points may be set in, for visitors: mails of the Latin script, one file for the usual ones and one for the rest. */
function copyFonts(root: string): void {
  mkdirSync(join(root, 'public/w/fonts'), { recursive: true })
  for (const name of ['hanken-grotesk', 'literata', 'nunito', 'bricolage-grotesque'])
    for (const mails of ['latin', 'latin-ext'])
      copyFileSync(
        join(root, `node_modules/@fontsource-variable/${name}/files/${name}-${mails}-wght-normal.woff2`),
        join(root, `public/w/fonts/${name}-${mails}.woff2`),
      )
}

/** To engines that know it: all of this is used at once, so it is compiled beside the page's own work and not call by call. */
const COMPILE_AT_ONCE = '//# allFunctionsCalledOnLoad'

/** What the script fetches when it is needed; they name each other by file. */
const PARTS = ['speak', 'appear', 'mount', 'typed', 'quiz', 'proof', 'chat']

/** The script that a customer's page loads, and what draws points, which it fetches when one is about to show. No framework. */
export async function buildWidget(root: string): Promise<void> {
  rmSync(join(root, 'public/w/parts'), { recursive: true, force: true })
  const common = {
    bundle: true,
    minify: true,
    target: 'es2020',
    legalComments: 'none',
    logLevel: 'error',
    banner: { js: COMPILE_AT_ONCE },
  } as const
  await Promise.all([
    bundle({ ...common, entryPoints: [join(root, 'widget/cavlin.ts')], outfile: join(root, 'public/w/cavlin.js'), format: 'iife' }),
    bundle({ ...common, entryPoints: [join(root, 'widget/snippets.ts')], outfile: join(root, 'public/w/snippets.js'), format: 'iife' }),
    // Each part in one piece: one file is fetched, and is smaller than several that share.
    bundle({
      ...common,
      entryPoints: PARTS.map(name => join(root, `widget/${name}.ts`)),
      outdir: join(root, 'public/w/parts'),
      external: PARTS.map(name => `./${name}.js`),
      format: 'esm',
    }),
  ])
}

function sourcesSum(root: string): string {
  const sum = createHash('sha256')
  const add = (path: string) => {
    const full = join(root, path)
    if (!existsSync(full)) return
    if (!statSync(full).isDirectory()) return void sum.update(path).update(readFileSync(full))
    // What the widget's build puts there is a result, and migrations are read when they are carried out.
    for (const name of readdirSync(full).sort()) if (!['public/w', 'db/migrations'].includes(join(path, name))) add(join(path, name))
  }
  for (const source of SOURCES) add(source)
  return sum.digest('hex')
}

/** Two starts from one clone must not build at once. @returns lets the next one build */
async function onlyOne(root: string): Promise<() => void> {
  const lock = join(root, '.building')
  for (let n = 0; ; n++) {
    try {
      mkdirSync(lock)
      writeFileSync(join(lock, 'pid'), String(process.pid))
      return () => rmSync(lock, { recursive: true, force: true })
    } catch {
      const pid = Number(existsSync(join(lock, 'pid')) ? readFileSync(join(lock, 'pid'), 'utf8') : 0)
      const gone = pid ? !existsSync(`/proc/${pid}`) : n > 5
      if (gone) rmSync(lock, { recursive: true, force: true })
      else if (n === 0) console.log('Another start is building in this folder; waiting for it …')
      await new Promise(r => setTimeout(r, 1000))
    }
  }
}
