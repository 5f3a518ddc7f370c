import type { H3Event } from 'h3'

/** Says that customers' pages may read the answer, on any origin; what stands under /w/ uses no cookies. */
export function openToSites({ node: { res } }: H3Event): void {
  res.setHeader('access-control-allow-origin', '*')
  res.setHeader('access-control-expose-headers', 'retry-after')
  res.setHeader('cross-origin-resource-policy', 'cross-origin')
}
