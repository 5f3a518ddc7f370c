import { randomBytes } from 'node:crypto'
import type { EventHandler, H3Event } from 'h3'
import { SANDBOX } from '#core/pages/sandbox'
import { ownAddress } from '#server/settings'

const secure = () => ownAddress().startsWith('https:')

/** What no page of ours needs, and so no page of ours may ask for (Permissions Policy). */
const NO_DEVICES = [
  'accelerometer',
  'browsing-topics',
  'camera',
  'display-capture',
  'geolocation',
  'gyroscope',
  'magnetometer',
  'microphone',
  'midi',
  'payment',
  'usb',
  'xr-spatial-tracking',
]
  .map(name => `${name}=()`)
  .join(', ')

/** What members read stays with them. */
const MEMBERS = /^\/api\//
/** What is read as data, or shown by itself, and runs nothing. */
/** Work beside a screen: its own script, which may bring a program of ours (a solver, as WebAssembly). */
const WORK =
  "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
const STILL = "default-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'"

/** Headers that go with everything. Who answers may say something stricter of its own. */
export function withHeaders(handler: EventHandler): EventHandler {
  return ((event: H3Event) => {
    const { res } = event.node
    res.setHeader('x-content-type-options', 'nosniff')
    res.setHeader('content-security-policy', event.path.startsWith('/_nuxt/') ? WORK : STILL)
    res.setHeader('referrer-policy', 'strict-origin-when-cross-origin')
    res.setHeader('permissions-policy', NO_DEVICES)
    if (secure()) res.setHeader('strict-transport-security', 'max-age=31536000; includeSubDomains')
    if (MEMBERS.test(event.path)) res.setHeader('cache-control', 'no-store')
    return handler(event)
  }) as EventHandler
}

/** A word that a page's own scripts and styles carry, new for each page. */
export const newNonce = (): string => randomBytes(16).toString('base64')

/** The one style attribute that is written as a text: PrimeVue's tooltip has it (`display:inline-block;width:fit-content;pointer-events:none`). */
const TOOLTIP = "'sha256-JYsO83ExUe+QAZ6wMV20BU+7xt/XdNX8xs4k1/QV4QA='"

/** The team's side: its own scripts and styles and nothing else; pictures that are being chosen; the site's pages, in the rehearsal. Nobody frames it. */
export const teamPolicy = (nonce: string): string =>
  [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}'`,
    `style-src 'self' 'nonce-${nonce}'`,
    `style-src-attr 'unsafe-hashes' ${TOOLTIP}`,
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "frame-src 'self' http: https:",
    "worker-src 'self'",
    "manifest-src 'self'",
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ].join('; ')

export interface Hosted {
  nonce: string
  /** Sites that may frame the page; `*` for all, none: nobody else's. */
  framedBy?: string[]
  /** Addresses of others that its form leads on to. */
  leadsTo?: string[]
  /** It has frames of foreign code, which are served from here. */
  frames?: boolean
}
/** What visitors see. */
export const hostedPolicy = ({ nonce, framedBy = [], leadsTo = [], frames = false }: Hosted): string =>
  [
    "default-src 'none'",
    "script-src 'self'",
    "connect-src 'self'",
    "img-src 'self'",
    "font-src 'self'",
    `style-src 'nonce-${nonce}'`,
    ...(frames ? ["frame-src 'self'"] : []),
    // Browsers hold a form to this also where its answer leads on.
    `form-action 'self'${originsOf(leadsTo)}`,
    "base-uri 'none'",
    `frame-ancestors ${framedBy.includes('*') ? '*' : `'self'${originsOf(framedBy)}`}`,
  ].join('; ')

/** Foreign code in a frame: it counts as a site of its own, also where somebody opens its address. Its own page of ours frames it. */
export const snippetPolicy = (): string => `sandbox ${SANDBOX}; frame-ancestors 'self'`

const originsOf = (addresses: string[]): string => addresses.flatMap(a => (URL.canParse(a) ? [` ${new URL(a).origin}`] : [])).join('')
