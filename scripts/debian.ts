import { existsSync, readdirSync } from 'node:fs'
import { CHROMIUMS, chromiumPath } from './chromium'
import { run } from './run'
import { step, Stop } from './say'

const isRoot = process.getuid?.() === 0

/** The folder of PostgreSQL's programs, the newest version installed; null without any. */
function postgresFolder(): string | null {
  const base = '/usr/lib/postgresql'
  if (!existsSync(base)) return null
  const versions = readdirSync(base).filter(v => existsSync(`${base}/${v}/bin/initdb`) && existsSync(`${base}/${v}/bin/postgres`))
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0]
  return newest ? `${base}/${newest}/bin` : null
}

/** PostgreSQL's programs; installs Debian's package when they are missing. */
export async function postgresPrograms(): Promise<string> {
  return postgresFolder() ?? (await install('postgresql', 'PostgreSQL'), postgresFolder()) ?? stop('PostgreSQL', 'postgresql')
}

/** Chromium, for the tests of the interface; installs Debian's better package where it is missing, and does with the other where it cannot. */
export async function chromium(): Promise<string> {
  for (const name of CHROMIUMS) {
    if (chromiumPath() === `/usr/bin/${name}`) break
    await install(name, 'Chromium').catch((error: unknown) => {
      if (!chromiumPath() && name === CHROMIUMS.at(-1)) throw error
    })
    if (chromiumPath()) break
  }
  return chromiumPath() ?? stop('Chromium', CHROMIUMS[0]!)
}

async function install(name: string, called: string): Promise<void> {
  if ((await run('apt-get', ['--version'])).code !== 0)
    throw new Stop(`${called} is missing, and this is not a Debian machine. Install it by hand and start again.`)
  const as = isRoot ? [] : ['sudo', '-n']
  if (!isRoot && (await run('sudo', ['-n', 'true'])).code !== 0) stop(called, name)
  await step(`Installing ${called} from Debian`, async () => {
    const apt = (...args: string[]) => {
      const [command, ...rest] = [
        ...as,
        'env',
        'DEBIAN_FRONTEND=noninteractive',
        'apt-get',
        '-y',
        '-q',
        '-o',
        'Acquire::http::Timeout=30',
        ...args,
      ]
      return run(command!, rest)
    }
    await apt('update')
    const { code, output } = await apt('install', '--no-install-recommends', name)
    if (code !== 0)
      throw new Stop(
        `Debian's package ${name} could not be installed: ${output.trim().split('\n').at(-1)} Install it by hand (apt-get install ${name}) and start again.`,
      )
  })
}

function stop(called: string, name: string): never {
  throw new Stop(`${called} is missing. Install it with: sudo apt-get install ${name}. Then start again.`)
}
