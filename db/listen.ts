import { openClient, PROMPT } from '#db/line'

const BEAT_MS = 3_000
const AGAIN_MS = 500

/**
 * Listens on a channel for as long as the process lives. The connection is asked now and then whether it still stands, for a
 * dead one is as silent as a quiet channel; a lost one is replaced.
 * @param hear what was told
 * @param begun called each time when listening begins; from the second time on something may have been missed
 * @returns ends it
 */
export function keepListening(
  url: string,
  name: string,
  channel: string,
  hear: (payload: string) => void,
  begun: (again: boolean) => void,
): () => Promise<void> {
  let over = false
  let times = 0
  let stop: () => Promise<unknown> = () => Promise.resolve()

  async function listen(): Promise<void> {
    let lost: () => void
    const ended = new Promise<void>(done => {
      lost = done
    })
    const sql = openClient(url, { name, max: 1, patience: PROMPT, onLost: () => lost(), onNotice: (_, payload) => hear(payload) })
    stop = () => sql.end({ timeout: 0 })
    try {
      await sql.unsafe(`listen ${channel}`)
      begun(times++ > 0)
      while (!over && (await Promise.race([ended.then(() => false), pause(BEAT_MS).then(() => true)])))
        await Promise.race([sql`select 1`, ended])
    } finally {
      void sql.end({ timeout: 0 }).catch(() => {})
    }
  }
  void (async () => {
    while (!over) {
      await listen().catch(() => {})
      if (!over) await pause(AGAIN_MS)
    }
  })()
  return async () => {
    over = true
    await stop().catch(() => {})
  }
}

const pause = (ms: number) =>
  new Promise<void>(done => {
    setTimeout(done, ms).unref()
  })
