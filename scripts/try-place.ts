import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openHouse, type House } from './house'
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
    return {
      root,
      data,
      host: '127.0.0.1',
      url: `http://127.0.0.1:${first}`,
      ports: { app: first, database: first + 1, site: first + 2, mailbox: first + 3, smtp: first + 4, receiver: first + 5 },
    }
  }
}

const isFree = (port: number) =>
  new Promise<boolean>(done => {
    const server = createServer()
      .once('error', () => done(false))
      .listen(port, '127.0.0.1', () => server.close(() => done(true)))
  })

/** A house that is thrown away: how to open it, and how to end with it. Ctrl-C ends it, too, also while it opens. */
export function houseToTry(place: Place): {
  open: (env?: Record<string, string>) => Promise<House>
  end: (code: number) => Promise<never>
} {
  let stop: (() => Promise<void>) | undefined
  const end = async (code: number): Promise<never> => {
    await stop?.()
    rmSync(place.data, { recursive: true, force: true })
    process.exit(code)
  }
  process.on('SIGINT', () => void end(1))
  return {
    open: (env = {}) =>
      openHouse(place, {
        env,
        opening: all => {
          stop = all
        },
      }),
    end,
  }
}
