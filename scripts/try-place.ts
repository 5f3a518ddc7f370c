import { chmodSync, mkdtempSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Place } from './place'

/** A data folder and six free ports for a house that is thrown away afterwards. */
export async function placeToTry(root: string): Promise<Place> {
  const data = mkdtempSync(join(tmpdir(), 'cavlin-try-'))
  // The database's own user must be able to enter, or its cluster would lie, and stay, elsewhere.
  chmodSync(data, 0o755)
  for (;;) {
    const first = 12_000 + Math.floor(Math.random() * 2500) * 8
    const free = await Promise.all(Array.from({ length: 8 }, (_, i) => isFree(first + i)))
    if (!free.every(Boolean)) continue
    return { root, data, host: '127.0.0.1', url: `http://127.0.0.1:${first}`, ports: { app: first, database: first + 1, site: first + 2, mailbox: first + 3, smtp: first + 4, receiver: first + 5 } }
  }
}

const isFree = (port: number) => new Promise<boolean>((done) => {
  const server = createServer().once('error', () => done(false)).listen(port, '127.0.0.1', () => server.close(() => done(true)))
})
