import { lookup as resolve } from 'node:dns'
import type { LookupFunction } from 'node:net'
import ipaddr from 'ipaddr.js'
import { setting } from '#server/settings'

/** Hosts inside that may be reached all the same, with their port: what stands beside us in a demo. */
export const isInside = (url: URL): boolean => setting('CAVLIN_CHAT_INSIDE').includes(url.host)

/** What is wrong with an address that a member gave for us to reach; null where nothing is. Whether its host lies inside is looked at when it is reached. */
export function flawInAddress(address: string): string | null {
  let url: URL
  try {
    url = new URL(address)
  } catch {
    return 'This is no address. It begins with https://.'
  }
  if (isInside(url)) return null
  if (url.protocol !== 'https:') return 'The address begins with https://.'
  if (url.username || url.password) return 'An address with a name and a password in it is not taken.'
  const host = url.hostname.replace(/^\[|\]$/g, '')
  return ipaddr.isValid(host) && ipaddr.process(host).range() !== 'unicast'
    ? 'This address lies inside a network. Give one that everybody can reach.'
    : null
}

/** Resolves names to addresses that everybody can reach, and to no others: whoever may name a host must not reach what stands beside us. */
export const outside: LookupFunction = (host, options, done) => {
  resolve(host, { ...options, all: true }, (error, found) => {
    if (error) return done(error, '', 4)
    const open = found.filter(({ address }) => ipaddr.process(address).range() === 'unicast')
    if (!open.length) return done(new Error('The name leads inside a network.') as NodeJS.ErrnoException, '', 4)
    if (options.all) return (done as unknown as (e: null, all: typeof open) => void)(null, open)
    done(null, open[0]!.address, open[0]!.family)
  })
}
