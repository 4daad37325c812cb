import { lookup } from 'node:dns'
import { BlockList, isIP } from 'node:net'
import type { LookupFunction } from 'node:net'

/** Networks that are nobody's on the internet (IANA's registries of special-purpose addresses). */
const OWN = new BlockList()
for (const [net, bits] of [
  ...([
    ['0.0.0.0', 8],
    ['10.0.0.0', 8],
    ['100.64.0.0', 10],
    ['127.0.0.0', 8],
    ['169.254.0.0', 16],
  ] as const),
  ...([
    ['172.16.0.0', 12],
    ['192.0.0.0', 24],
    ['192.0.2.0', 24],
    ['192.88.99.0', 24],
    ['192.168.0.0', 16],
  ] as const),
  ...([
    ['198.18.0.0', 15],
    ['198.51.100.0', 24],
    ['203.0.113.0', 24],
    ['224.0.0.0', 4],
    ['240.0.0.0', 4],
  ] as const),
] as const)
  OWN.addSubnet(net, bits, 'ipv4')
// Of the newer addresses only one part is given to the public at all; in it these are not.
const PUBLIC6 = new BlockList()
PUBLIC6.addSubnet('2000::', 3, 'ipv6')
const OWN6 = new BlockList()
for (const [net, bits] of [
  ['2001::', 23],
  ['2001:db8::', 32],
  ['2002::', 16],
  ['3fff::', 20],
] as const)
  OWN6.addSubnet(net, bits, 'ipv6')

/** Whether an address is one of the internet, and not of the school's own network or this machine. */
export function isPublicAddress(address: string): boolean {
  const family = isIP(address)
  if (family === 4) return !OWN.check(address, 'ipv4')
  return family === 6 && PUBLIC6.check(address, 'ipv6') && !OWN6.check(address, 'ipv6')
}

/**
 * Finds the address of a host as the connection is made, and refuses what is not public: what a name leads to may be another at
 * each time it is asked.
 */
export const publicLookup: LookupFunction = (host, options, done) => {
  lookup(host, { ...options, all: true }, (error, found) => {
    if (error) return done(error, '', 4)
    const [first] = found
    if (!first || found.some(({ address }) => !isPublicAddress(address)))
      return done(new Error('not a public address'), '', 4)
    if (options.all) return done(null, found)
    done(null, first.address, first.family)
  })
}
