/** @returns what came of a statement; `taken` where another row has the name (PostgreSQL 23505) */
export const isTaken = <T>(done: Promise<T>): Promise<T | 'taken'> =>
  done.catch((error: { code?: string }) => {
    if (error.code === '23505') return 'taken' as const
    throw error
  })
