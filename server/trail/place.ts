import { readFileSync } from 'node:fs'
import ipaddr from 'ipaddr.js'
import { setting } from '#server/settings'

/**
 * Where an address roughly is: a small table that stands in for a location service. `CAVLIN_PLACES`
 * names a CSV file of another one, a network and a place a line: `192.0.2.0/24,Fenwick`.
 */
const SHIPPED = `127.0.0.0/8,this machine
::1/128,this machine
10.0.0.0/8,the house network
172.16.0.0/12,the house network
192.168.0.0/16,the house network
192.0.2.0/24,Larkmoss
198.51.100.0/24,Fenwick
203.0.113.0/24,Old Quernmoor
2001:db8::/32,Brackwater`

type Range = [ipaddr.IPv4 | ipaddr.IPv6, number]
let table: { range: Range; place: string }[] | null = null

function read(text: string): { range: Range; place: string }[] {
  return text.split(/\r?\n/).flatMap(line => {
    const [network, ...place] = line.split(',')
    return network && place.length && ipaddr.isValidCIDR(network.trim())
      ? [{ range: ipaddr.parseCIDR(network.trim()), place: place.join(',').trim().slice(0, 100) }]
      : []
  })
}

/** @returns null when nothing is known of the address */
export function placeOf(address: string): string | null {
  const given = table ? null : setting('CAVLIN_PLACES')
  table ??= read(given ? readFileSync(given, 'utf8') : SHIPPED)
  if (!ipaddr.isValid(address)) return null
  const ip = ipaddr.process(address)
  return table.find(({ range: [net], range }) => net.kind() === ip.kind() && ip.match(range))?.place ?? null
}
