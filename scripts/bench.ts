import { rmSync } from 'node:fs'
import { cpus } from 'node:os'
import { benchEditor } from '../bench/editor'
import { benchEntries } from '../bench/entries'
import { benchScreen } from '../bench/screen'
import { benchScript } from '../bench/script'
import { benchTrail } from '../bench/trail'
import { chromium } from './debian'
import { openHouse } from './house'
import { root } from './prepare.mjs'
import { placeToTry } from './try-place'

// npm run bench [-- entries | screen | script | editor | trail]
const wanted = process.argv.slice(2)
const want = (part: string) => !wanted.length || wanted.includes(part)
const place = await placeToTry(root)
let stop: (() => Promise<void>) | undefined
const end = async (code: number) => {
  await stop?.()
  rmSync(place.data, { recursive: true, force: true })
  process.exit(code)
}
process.on('SIGINT', () => void end(1))

try {
  await chromium()
  const house = await openHouse(place, { env: { CAVLIN_LIMITS: 'off' }, opening: (all) => { stop = all } })
  console.log(`\n${cpus().length} cores, ${cpus()[0]?.model}, Node ${process.versions.node}; database, application, worker and load share them.\n`)
  if (want('script')) await benchScript(house)
  if (want('screen')) await benchScreen(house)
  if (want('editor')) await benchEditor(house)
  if (want('entries')) await benchEntries(house, place.ports.app + 6)
  if (want('trail')) await benchTrail(house)
  await end(0)
} catch (error) {
  console.error(error)
  await end(1)
}
