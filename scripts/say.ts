/** Stops with one sentence that says what to do. */
export class Stop extends Error {}

/** Runs a long step and shows that it goes on. */
export async function step<T>(what: string, work: (note: (text: string) => void) => Promise<T>): Promise<T> {
  const started = Date.now()
  const seconds = () => Math.round((Date.now() - started) / 1000)
  let noted = ''
  console.log(`${what} …`)
  const timer = setInterval(() => console.log(`  ${noted || 'still at it'}, ${seconds()} s`), 10_000)
  try {
    const result = await work(text => {
      noted = text
    })
    if (seconds() >= 1) console.log(`  done in ${seconds()} s`)
    return result
  } finally {
    clearInterval(timer)
  }
}
