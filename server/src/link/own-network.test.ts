import { describe, expect, it } from '@jest/globals'
import { lookupOwn, mayBeOwn } from './own-network.js'

describe('addresses that may be connected to', () => {
  it.each([
    '192.168.0.10',
    '10.1.2.3',
    '172.20.0.1',
    '169.254.7.7',
    '127.0.0.1',
    '::1',
    'fe80::1',
    'adapter',
    'adapter.local',
  ])('%s is one of the shop', (host) => expect(mayBeOwn(host)).toBe(true))
  it.each(['8.8.8.8', '172.32.0.1', '192.169.0.1', '2001:db8::1'])('%s is not', (host) =>
    expect(mayBeOwn(host)).toBe(false),
  )
  it('a name is looked at by what it stands for', async () => {
    const answer = (name: string): Promise<string> =>
      new Promise((resolve) => lookupOwn(name, { family: 4 }, (e, address) => resolve(e ? e.message : String(address))))
    expect(await answer('localhost')).toBe('127.0.0.1')
    expect(await answer('8.8.8.8')).toMatch(/is not an adapter of the shop’s own network/)
  })
})
