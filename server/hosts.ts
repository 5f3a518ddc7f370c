import type { H3Event } from 'h3'
import { hostAddress, standsAt, type Host } from '#core/points/hosts'
import { concerns, type Topics } from '#core/live/topics'
import { hostRows } from '#db/hosts'
import { database } from '#server/database'
import { isSigned, sign } from '#server/keys'
import { ownAddress, setting } from '#server/settings'
import { header } from '#server/wire'

/** Should a word of a change get lost, nothing stays stale for longer than this. */
const KEPT_MS = 5_000
let kept: { hosts: Promise<Host[]>; until: number } | null = null
let known: Host[] = []

const own = () => ownAddress() || 'http://localhost'

/** All names under which forms and pages are found, beside the application's own. Kept for some seconds. */
export function allHosts(): Promise<Host[]> {
  if (!kept || Date.now() > kept.until) {
    const hosts = readHosts()
    const now = { hosts, until: Date.now() + KEPT_MS }
    hosts.then(
      read => {
        known = read
      },
      () => {
        now.until = 0
      },
    )
    kept = now
  }
  return kept.hosts
}

async function readHosts(): Promise<Host[]> {
  const rows = await hostRows(database())
  return rows.map(h => ({ ...h, address: hostAddress(h.name, own()), arrivedAt: h.arrivedAt?.toISOString() ?? null }))
}

const IN_HOSTS: Topics = { site: true, points: true }
/** Takes what follows from what changed as not known. */
export function forgetHosts(change: Topics): void {
  if (concerns(IN_HOSTS, change)) kept = null
}

/** The name under which a request came, without its port. A proxy in front may say it, where proxies are trusted. */
export function nameAsked(event: H3Event): string {
  const forwarded = setting('CAVLIN_TRUST_PROXY') ? header(event, 'x-forwarded-host')?.split(',')[0]!.trim() : undefined
  return (forwarded || header(event, 'host') || '').replace(/:\d+$/, '').replace(/\.$/, '').toLowerCase()
}

/** The name of ours under which a request came; null under the application's own address, or any other. */
export async function hostOf(event: H3Event): Promise<Host | null> {
  const name = nameAsked(event)
  return (await allHosts()).find(h => h.name === name) ?? null
}

/** Where a form or page stands, without a slash at the end, as far as it is known by now. */
export const baseOf = ({ host }: { host: string | null }): string => standsAt(host, known, ownAddress())

/** Whether a page that says it is of this origin is one of ours. */
export async function isOurOrigin(origin: string): Promise<boolean> {
  return origin === new URL(own()).origin || (await allHosts()).some(h => h.address === origin)
}

/** What only the address has that we gave for trying a name. */
export const arrivalWord = (name: string): string => sign('words', `host ${name}`)
export const isArrivalWord = (name: string, word: string): boolean => isSigned('words', `host ${name}`, word)
