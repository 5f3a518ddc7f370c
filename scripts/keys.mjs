import { packages, run } from './prepare.mjs'

await packages()
await run('keys.ts')
