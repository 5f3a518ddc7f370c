import type { Flaw } from '#core/flaws'

/** What went wrong with a request, in words for the person at the screen. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly flaws: Flaw[],
  ) {
    super(message)
  }
}

/** Sends a request to the team's routes. @throws ApiError */
export async function api<T>(
  path: string,
  options: { method?: 'GET' | 'POST' | 'PUT' | 'DELETE'; body?: unknown; query?: Record<string, unknown> } = {},
): Promise<T> {
  try {
    return (await $fetch<T>(path, { ...options, body: options.body as never, retry: 0 })) as T
  } catch (error) {
    const { status, data } = error as { status?: number; data?: { detail?: string; errors?: Flaw[] } }
    if (!status) throw new ApiError('Cavlin cannot be reached. Nothing was changed; check the connection and try again.', 0, [])
    if (status === 401 && path !== '/api/session') useSession().ended = useSession().me !== null
    throw new ApiError(
      data?.errors?.[0]?.message ?? data?.detail ?? 'This did not work. Try again in a moment.',
      status,
      data?.errors ?? [],
    )
  }
}
