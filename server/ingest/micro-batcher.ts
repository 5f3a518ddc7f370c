/** How long, in ms, half of a crowd that was just served may take to come back before the next batch goes on without it. */
const WAIT_MS = 10
/** As many together are a crowd; a lonely caller waits for nobody. */
const CROWD = 4

export interface Manner {
  /** Whether an error goes away by trying again. */
  mayRepeat: (error: unknown) => boolean
  /** Whether an error is nobody's own: then all fail at once, and none is tried by itself. */
  isHopeless?: (error: unknown) => boolean
  /** Ms after which nobody waits for the result any more: what has not begun by then is not begun. */
  patience?: number
  most?: number
}

/**
 * Lets callers that come while work is under way share the next batch of it.
 * Entries that arrive together so share one transaction and one flush to disk:
 * a busy moment costs less per entry, a quiet one waits for nobody.
 * @param work on several items at once, one result an item, all or none. `more`, asked once, gives the items that came
 *   meanwhile and go with these; their results stand behind those of the first.
 */
export function microBatcher<T, R>(
  work: (items: T[], more: () => Promise<T[]>) => Promise<R[]>,
  { mayRepeat, isHopeless = () => false, patience = Infinity, most = 64 }: Manner,
) {
  interface Waiting {
    item: T
    until: number
    done: (result: R) => void
    failed: (error: unknown) => void
  }
  let queue: Waiting[] = []
  let busy = false
  /** How many may come together: those who were served last, and who came meanwhile. */
  let expected = 0
  let [wanted, enough] = [0, null as (() => void) | null]

  async function attempt(batch: Waiting[], more: () => Promise<T[]>): Promise<void> {
    for (let tries = 1; ; tries++) {
      try {
        const results = await work(
          batch.map(w => w.item),
          tries === 1 ? more : none,
        )
        batch.forEach((w, i) => w.done(results[i]!))
        return
      } catch (error) {
        if (isHopeless(error)) return batch.forEach(w => w.failed(error))
        if (mayRepeat(error) && tries < 5) continue
        // One bad item must not take the others with it.
        if (batch.length > 1) for (const w of batch) await attempt([w], none)
        else batch[0]!.failed(error)
        return
      }
    }
  }

  /** After a crowd, gives so many of the same crowd a moment to come back. */
  async function crowd(some: number): Promise<void> {
    if (expected < CROWD || queue.length >= some) return
    await new Promise<void>(done => {
      const timer = setTimeout(done, WAIT_MS)
      wanted = some
      enough = () => {
        clearTimeout(timer)
        done()
      }
    })
    enough = null
  }

  const taken = (some: number): Waiting[] => {
    const now = Date.now()
    if (queue.length && queue[0]!.until < now) {
      for (const late of queue.filter(w => w.until < now)) late.failed(new TooLong())
      queue = queue.filter(w => w.until >= now)
    }
    const first = queue.slice(0, some)
    queue = queue.slice(some)
    return first
  }

  async function run(): Promise<void> {
    for (;;) {
      // The first half of a crowd begins, the other half joins it: one large batch costs less than two, and this
      // way nobody waits for the last to arrive before anything is done.
      await crowd(Math.ceil(expected / 2))
      if (!queue.length) break
      const batch = taken(most)
      if (!batch.length) continue
      await attempt(batch, async () => {
        await crowd(expected - batch.length)
        const late = taken(most - batch.length)
        batch.push(...late)
        return late.map(w => w.item)
      })
      expected = Math.min(most, batch.length + queue.length)
    }
    busy = false
    expected = 0
  }

  return (item: T): Promise<R> =>
    new Promise((done, failed) => {
      queue.push({ item, until: Date.now() + patience, done, failed })
      if (queue.length >= wanted) enough?.()
      // A tick later, so that requests read in the same turn of the loop go together.
      if (!busy) {
        busy = true
        setImmediate(() => void run())
      }
    })
}
const none = () => Promise.resolve([])

/** Waited so long for those before it that nobody waits for it any more. */
export class TooLong extends Error {
  override name = 'TooLong'
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
