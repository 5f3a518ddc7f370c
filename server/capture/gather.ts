/** How long, in ms, a crowd that was just served may take to come back before the next piece begins without it. */
const WAIT_MS = 10
/** As many together are a crowd; a lonely caller waits for nobody. */
const CROWD = 4

/**
 * Lets callers that come while work is under way share the next piece of it.
 * Entries that arrive together so share one transaction and one flush to disk:
 * a busy moment costs less per entry, a quiet one waits for nobody.
 * @param work on several items at once, one result an item, all or none
 * @param mayRepeat whether an error goes away by trying again
 */
export function gather<T, R>(work: (items: T[]) => Promise<R[]>, mayRepeat: (error: unknown) => boolean, most = 64) {
  interface Waiting { item: T; done: (result: R) => void; failed: (error: unknown) => void }
  let queue: Waiting[] = []
  let busy = false
  let expected = 0
  let enough: (() => void) | null = null

  async function attempt(batch: Waiting[]): Promise<void> {
    for (let tries = 1; ; tries++) {
      try {
        const results = await work(batch.map(w => w.item))
        batch.forEach((w, i) => w.done(results[i]!))
        return
      } catch (error) {
        if (mayRepeat(error) && tries < 5) continue
        // One bad item must not take the others with it.
        if (batch.length > 1) for (const w of batch) await attempt([w])
        else batch[0]!.failed(error)
        return
      }
    }
  }

  /** After a crowd, gives the same crowd a moment to come back: two half pieces would cost more than a whole one. */
  async function crowd(): Promise<void> {
    if (expected < CROWD || queue.length >= expected) return
    await new Promise<void>((done) => {
      const timer = setTimeout(done, WAIT_MS)
      enough = () => {
        clearTimeout(timer)
        done()
      }
    })
    enough = null
  }

  async function run(): Promise<void> {
    for (;;) {
      await crowd()
      if (!queue.length) break
      const batch = queue.slice(0, most)
      queue = queue.slice(most)
      await attempt(batch)
      // Who was just served, and who came meanwhile: so many may be here again in a moment.
      expected = Math.min(most, batch.length + queue.length)
    }
    busy = false
    expected = 0
  }

  return (item: T): Promise<R> => new Promise((done, failed) => {
    queue.push({ item, done, failed })
    if (queue.length >= expected) enough?.()
    // A tick later, so that requests read in the same turn of the loop go together.
    if (!busy) {
      busy = true
      setImmediate(() => void run())
    }
  })
}

const REPEATABLE = new Set(['23505', '40001', '40P01'])
/** Two processes got in each other's way (a person new to both, a deadlock): trying again finds what the other wrote. */
export const gotInTheWay = (error: unknown) => REPEATABLE.has((error as { code?: string })?.code ?? '')

/** Works once more when another process got in the way. */
export async function retried<T>(work: () => Promise<T>, times = 3): Promise<T> {
  for (;;) {
    try {
      return await work()
    } catch (error) {
      if (--times <= 0 || !gotInTheWay(error)) throw error
    }
  }
}
