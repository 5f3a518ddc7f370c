import { existsSync } from 'node:fs'
import { PURPOSES, type Purpose } from '#server/keys'
import { keepSecrets, newKey, readPlace, secrets } from './place'
import { root } from './prepare.mjs'

// npm run keys -- links [keep]: a new key for what is signed. What the old one signed works no more, unless it is kept;
// addresses to leave a list always live on.
const [purpose, keep] = process.argv.slice(2)
const { data } = readPlace(root)
if (!PURPOSES.includes(purpose as Purpose) || (keep !== undefined && keep !== 'keep')) {
  console.error(`Say which key to change: ${PURPOSES.join(', ')}. With “keep” behind it, what the old one signed goes on to work.`)
  process.exit(1)
}
if (!existsSync(data)) {
  console.error(`There is no data folder at ${data} yet. Start Cavlin once, or name another folder with CAVLIN_DATA.`)
  process.exit(1)
}
const whole = secrets(data)
const own = whole.keys[purpose as Purpose]
whole.keys[purpose as Purpose] = [newKey(), ...(keep || purpose === 'leave' ? own : [])]
keepSecrets(data, whole)
console.log(`The key for ${purpose} was changed. It counts from the next start.`)
