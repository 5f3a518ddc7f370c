import autocannon from 'autocannon'

export interface Load {
  perSecond: number
  p50: number
  p99: number
  failed: number
  /** Why, by status. */ why: string
  sent: number
}

/** Posts JSON as fast as it is answered, for some seconds over some connections. Times in ms. */
export async function load(
  url: string,
  seconds: number,
  connections: number,
  next: () => { body: string; headers: Record<string, string> },
): Promise<Load> {
  const result = await autocannon({
    url,
    connections,
    duration: seconds,
    method: 'POST',
    requests: [
      {
        setupRequest(request) {
          const { body, headers } = next()
          return { ...request, body, headers: { 'content-type': 'application/json', ...headers } }
        },
      },
    ],
  } as autocannon.Options)
  return {
    perSecond: result.requests.average,
    p50: result.latency.p50,
    p99: result.latency.p99,
    failed: result.non2xx + result.errors + result.timeouts,
    why: Object.entries(result.statusCodeStats ?? {})
      .map(([status, { count }]) => `${status}: ${count}`)
      .join(', '),
    sent: result.requests.total,
  }
}

/** The middle one. */
export const median = (numbers: number[]): number => [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)]!
/** The value that a share of all does not exceed (nearest rank). */
export const quantile = (numbers: number[], share: number): number =>
  [...numbers].sort((a, b) => a - b)[Math.min(numbers.length - 1, Math.ceil(share * numbers.length) - 1)]!
