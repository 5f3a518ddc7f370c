import { readFileSync } from 'node:fs'
import { demoFile, openHouse } from './house'
import { readPlace } from './place'
import { root } from './prepare.mjs'
import { Stop } from './say'

let stop: (() => Promise<void>) | undefined
let ending = false

async function end(code: number): Promise<never> {
  if (!ending) {
    ending = true
    console.log('\nEnding what was started …')
    await stop?.()
  }
  process.exit(code)
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void end(0))

try {
  const place = readPlace(root)
  const days = Number(process.env.CAVLIN_DEMO_DAYS || 120)
  if (!Number.isInteger(days) || days < 1 || days > 400)
    throw new Stop(`CAVLIN_DEMO_DAYS is “${process.env.CAVLIN_DEMO_DAYS}”; it must be a whole number of days from 1 to 400.`)
  await openHouse(place, {
    demo: { days },
    opening: all => {
      stop = all
    },
    onGiveUp: name => {
      console.error(`${name} ends again and again; see above why. Cavlin stops.`)
      void end(1)
    },
  })
  const demo = JSON.parse(readFileSync(demoFile(place.data), 'utf8'))
  const column = Math.max(...demo.members.map((m: { email: string }) => m.email.length))
  console.log(`
Cavlin is running, with the made-up firm Larkmoss Glasshouses.

  The team's side   ${demo.url}
  The firm's site   ${demo.standins.site}
  The mailbox       ${demo.standins.mailbox}
  The receiver      ${demo.standins.receiver}

Sign in with a click there, or as:
${demo.members.map((m: { email: string; password: string; role: string }) => `  ${m.email.padEnd(column)}   ${m.password.padEnd(20)} ${m.role}`).join('\n')}
${process.env.CAVLIN_LIMITS === 'off' ? '\n*** CAVLIN_LIMITS=off: nobody is slowed down, whatever they send. For load tests only. ***\n' : ''}
Data and demo.json are in ${place.data}. Ctrl-C ends everything.
`)
} catch (error) {
  // What failed because we are ending already needs no words.
  if (ending) await new Promise(() => {})
  console.error(`\n${error instanceof Stop ? error.message : (error as Error).stack}\n`)
  await end(1)
}
