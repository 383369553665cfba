import { lookup as systemLookup, type LookupAddress, type LookupAllOptions, type LookupOneOptions } from 'node:dns'
import { BlockList, isIP, type LookupFunction } from 'node:net'

/** Networks that a shop's own devices stand in: private, link-local and this machine (RFC 1918, 3927, 4193, 4291). */
const OWN = new BlockList()
for (const [net, prefix] of [
  ['10.0.0.0', 8],
  ['172.16.0.0', 12],
  ['192.168.0.0', 16],
  ['169.254.0.0', 16],
  ['127.0.0.0', 8],
] as const)
  OWN.addSubnet(net, prefix, 'ipv4')
for (const [net, prefix] of [
  ['fc00::', 7],
  ['fe80::', 10],
  ['::1', 128],
] as const)
  OWN.addSubnet(net, prefix, 'ipv6')

/** Whether an address is one of a private network, or this computer. */
export const isOwnAddress = (address: string): boolean => {
  const family = isIP(address)
  return family !== 0 && OWN.check(address, family === 4 ? 'ipv4' : 'ipv6')
}

/** What is accepted, for whoever typed another. */
export const OWN_NETWORK = 'an adapter of the shop’s own network, as 192.168.0.10'

/** Whether a host may be one of the shop's network: a private address, or a name, which is looked at when it is looked up. */
export const mayBeOwn = (host: string): boolean => isIP(host) === 0 || isOwnAddress(host)

/** Looks a name up and lets only addresses of the shop's own network pass: a name may stand for anything. */
export const lookupOwn: LookupFunction = (hostname, options, done) => {
  systemLookup(hostname, { ...options, all: true } as LookupAllOptions, (error, found: LookupAddress[]) => {
    const own = error ? [] : found.filter((a) => isOwnAddress(a.address))
    if (!own.length) return done(error ?? new Error(`${hostname} is not ${OWN_NETWORK}`), '', 4)
    if ((options as LookupOneOptions & { all?: boolean }).all) return done(null, own as never, 0)
    done(null, own[0].address, own[0].family)
  })
}
