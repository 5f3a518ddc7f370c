let known: Promise<Map<string, string>> | null = null

/** The points' names by their keys. */
export function usePointNames(): Readonly<Ref<Map<string, string>>> {
  const names = shallowRef(new Map<string, string>())
  known ??= api<{ key: string; name: string }[]>('/api/team/points').then(all => new Map(all.map(p => [p.key, p.name])))
  known.then(
    all => {
      names.value = all
    },
    () => {
      known = null
    },
  )
  // A point that was made meanwhile gets its name the next time.
  setTimeout(() => {
    known = null
  }, 30_000)
  return names
}
