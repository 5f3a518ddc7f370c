/** More strangers' words than this are not kept. */
const MOST = 2_000

/**
 * What keys stand for, asked for once until it is forgotten.
 * @param read what one key stands for; null: nothing
 */
export function knownByKey<T>(read: (key: string) => Promise<T | null>) {
  // Another one each time it is forgotten: what was asked for before is not kept beyond it.
  let kept = new Map<string, T | null>()
  const forget = () => {
    kept = new Map()
  }
  return {
    forget,
    /** Whatever is forgotten meanwhile, whoever asks is told all of it. */
    async of(keys: string[]): Promise<Map<string, T>> {
      if (kept.size > MOST) forget()
      const known = new Map<string, T>()
      for (const key of keys) {
        const before = kept
        let value = before.get(key)
        if (value === undefined) {
          value = await read(key)
          before.set(key, value)
        }
        if (value !== null) known.set(key, value)
      }
      return known
    },
  }
}
