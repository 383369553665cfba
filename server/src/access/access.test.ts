import { readFileSync, statSync } from 'node:fs'
import { get as plainGet } from 'node:http'
import { request } from 'node:https'
import { dirname, join } from 'node:path'
import { X509Certificate } from 'node:crypto'
import { connect } from 'node:tls'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import type { Door, PairingCode, Person } from '@uvula/contract'
import { freePorts, Harness, reading } from '../harness.fixture.js'

const PASSPHRASE = 'seven grey herons at noon'
/** As long as one may be, so that no salt, hash or key of the file holds its digits by chance. */
const PIN = '47119362'
let port = 0
let server: Harness
beforeAll(async () => {
  port = await freePorts(2)
  server = new Harness({ port, at: '127.0.0.1', plain: false })
  await server.open()
}, 60_000)
afterAll(() => server.close())

interface Told {
  readonly status: number
  readonly body: Record<string, unknown> & {
    readonly detail?: string
    readonly me?: Person
    readonly people?: Person[]
  }
  readonly cookies: readonly string[]
}

/** A tablet on the network: it holds its cookies and trusts the shop's certificate and no other. */
class Tablet {
  private readonly held = new Map<string, string>()
  private keys = 0

  constructor(private readonly headers: Record<string, string> = {}) {}

  get cookie(): string {
    return [...this.held].map(([k, v]) => `${k}=${v}`).join('; ')
  }

  ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Told> {
    const text = body === undefined ? undefined : JSON.stringify(body)
    return new Promise((resolve, reject) => {
      const q = request(
        {
          host: '127.0.0.1',
          port,
          method,
          path,
          ca: authority(),
          // a header that names another host is not meant for the check of the certificate
          ...(headers.host ? { checkServerIdentity: () => undefined } : {}),
          headers: {
            ...(text === undefined
              ? {}
              : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text) }),
            'idempotency-key': `t${++this.keys}${Math.random()}`,
            ...(this.held.size ? { cookie: this.cookie } : {}),
            ...this.headers,
            ...headers,
          },
        },
        (r) => {
          let said = ''
          r.setEncoding('utf8')
          r.on('error', reject)
          r.on('data', (x: string) => (said += x))
          r.on('end', () => {
            const cookies = r.headers['set-cookie'] ?? []
            for (const c of cookies) {
              const [, name, value] = /^([^=]+)=([^;]*)/.exec(c)!
              if (value) this.held.set(name, value)
              else this.held.delete(name)
            }
            resolve({ status: r.statusCode!, body: said.startsWith('{') ? JSON.parse(said) : { said }, cookies })
          })
        },
      )
      q.on('error', reject)
      q.end(text)
    })
  }

  /** Lets itself in by a code of the shop's computer. */
  async pair(name: string): Promise<Told> {
    const { body } = await server.call('POST', '/api/access/code')
    return this.ask('POST', '/api/access/pair', { secret: (body as unknown as PairingCode).code, name })
  }

  async signIn(name: string, pin: string): Promise<Told> {
    const person = door().people.find((p) => p.name === name)!.id
    return this.ask('POST', '/api/access/sign-in', { person, pin })
  }

  write(value: number, by: string, slot = 'idle'): Promise<Told> {
    const at = '2026-01-01T09:00:00Z'
    return this.ask('PUT', `/api/readings/visit-vet:0:${slot}:rpm`, {
      ...reading(value, { slot }),
      baseVersion: 0,
      by,
      at,
    })
  }
}

let last: Door
const door = (): Door => last
async function say(method: string, path: string, body?: unknown): Promise<Door> {
  const r = await server.call(method, `/api/access/${path}`, body)
  expect(r.status).toBe(200)
  return (last = r.body as unknown as Door)
}
const accessFile = (): string => join(dirname(server.database), 'access.json')
const authority = (): string =>
  (JSON.parse(readFileSync(accessFile(), 'utf8')) as { authority: { certificate: string } }).authority.certificate

describe('the way in from the shop’s network', () => {
  it('is shut as it comes, and nobody could come in without a passphrase and an owner', async () => {
    expect(await say('GET', 'door')).toMatchObject({ open: false, ready: false, addresses: [], people: [] })
    const swung = await server.call('PUT', '/api/access/door', { open: true })
    expect([swung.status, swung.body.detail]).toEqual([409, expect.stringContaining('passphrase and an owner')])
    const weak = await server.call('POST', '/api/access/door/first', { passphrase: 'short', name: 'Runa', pin: '12' })
    expect([weak.status, weak.body.detail]).toEqual([400, expect.stringMatching(/passphrase.*12.*pin.*4 to 8 digits/)])
    await expect(new Tablet().ask('GET', '/api/bay').catch((e: { code: string }) => e.code)).resolves.toBeDefined()
  })
  it('opens with a certificate that holds for its addresses and whose authority can speak for nothing public', async () => {
    await say('POST', 'door/first', { passphrase: PASSPHRASE, name: 'Runa', pin: PIN })
    expect(door()).toMatchObject({
      open: true,
      addresses: [`https://127.0.0.1:${port}/`],
      trust: [`http://127.0.0.1:${port + 1}/`],
      people: [{ name: 'Runa', role: 'owner' }],
    })
    const shop = new X509Certificate(authority())
    expect(door().fingerprint).toBe(shop.fingerprint256.replaceAll(':', ' '))
    expect(shop.ca).toBe(true)
    const seen = await new Promise<string>((resolve, reject) => {
      const socket = connect({ host: '127.0.0.1', port, ca: authority() }, () => {
        resolve(socket.getPeerX509Certificate()!.subjectAltName!)
        socket.end()
      })
      socket.on('error', reject)
    })
    expect(seen).toBe('IP Address:127.0.0.1')
    // its constraints: only private networks and .local
    const der = shop.raw.toString('latin1')
    expect(der).toContain('local')
    expect(der).toContain(String.fromCharCode(192, 168, 0, 0, 255, 255, 0, 0))
  })
  it('keeps no secret that could be read, in a file that is the owner’s alone', () => {
    const text = readFileSync(accessFile(), 'utf8')
    expect(text).not.toContain(PASSPHRASE)
    expect(text).not.toContain(PIN)
    expect(statSync(accessFile()).mode & 0o777).toBe(0o600)
  })
  it('gives the page about the certificate and the certificate in the plain, and nothing else there', async () => {
    const plain = (path: string): Promise<{ status: number; text: string }> =>
      new Promise((resolve, reject) =>
        plainGet({ host: '127.0.0.1', port: port + 1, path }, (r) => {
          const parts: Buffer[] = []
          r.on('data', (x: Buffer) => parts.push(x))
          r.on('end', () => resolve({ status: r.statusCode!, text: Buffer.concat(parts).toString('latin1') }))
        }).on('error', reject),
      )
    const page = await plain('/')
    expect(page.text).toContain(door().fingerprint)
    expect(page.text).toContain(`https://127.0.0.1:${port}/`)
    const file = await plain('/uvula-of-this-shop.crt')
    expect(file.text).toBe(new X509Certificate(authority()).raw.toString('latin1'))
    for (const path of ['/api/bay', '/api/access', '/../access.json']) expect((await plain(path)).status).toBe(404)
  })
})

describe('a tablet', () => {
  it('that was never let in learns nothing, neither cars nor names', async () => {
    const stranger = new Tablet()
    for (const path of ['/api/bay', '/api/visits/visit-vet', '/api/shop', '/api/visits.csv', '/api/shop/backup'])
      expect((await stranger.ask('GET', path)).status).toBe(401)
    expect((await stranger.ask('GET', '/api/access')).body).toEqual({ here: false, paired: false, people: [] })
    expect((await stranger.write(700, 'Runa')).status).toBe(401)
    expect((await stranger.signIn('Runa', PIN)).status).toBe(401)
  })
  it('is let in once by a code; used again it is refused', async () => {
    const { body } = await server.call('POST', '/api/access/code')
    const { code, links } = body as unknown as PairingCode
    expect(links).toEqual([`https://127.0.0.1:${port}/pair#${code}`])
    const first = new Tablet()
    const typed = `${code.slice(0, 5).toLowerCase()} ${code.slice(5)}`
    const let1 = await first.ask('POST', '/api/access/pair', { secret: typed, name: 'bay one' })
    expect(let1.status).toBe(200)
    expect(let1.cookies[0]).toMatch(
      /^__Host-uvula-tablet=\S+; Max-Age=\d+; Path=\/; .*HttpOnly; Secure; SameSite=Strict/,
    )
    expect(let1.body.people).toMatchObject([{ name: 'Runa' }])
    const again = await new Tablet().ask('POST', '/api/access/pair', { secret: code, name: 'bay two' })
    expect([again.status, again.body.detail]).toEqual([400, expect.stringContaining('neither the code')])
    // paired and nobody signed in: names, and no cars
    expect((await first.ask('GET', '/api/bay')).status).toBe(401)
  })
  it('is let in by the passphrase; guesses at it are slowed down', async () => {
    const tablet = new Tablet()
    expect((await tablet.ask('POST', '/api/access/pair', { secret: PASSPHRASE, name: 'bay two' })).status).toBe(200)
    const guess = (): Promise<Told> =>
      tablet.ask('POST', '/api/access/pair', { secret: 'open sesame please', name: 'x' })
    for (let i = 0; i < 5; i++) expect((await guess()).status).toBe(400)
    const slowed = await guess()
    expect([slowed.status, slowed.body.detail]).toEqual([429, expect.stringMatching(/may come in \d+ s/)])
    // the right one has to wait too
    expect((await tablet.ask('POST', '/api/access/pair', { secret: PASSPHRASE, name: 'x' })).status).toBe(429)
    await server.restart()
    await say('GET', 'door')
    expect(door().open).toBe(true)
  })
  it('serves whoever signs in, and every entry says who', async () => {
    await say('POST', 'people', { name: 'Ebbe', pin: '0815', role: 'technician' })
    const tablet = new Tablet()
    await tablet.pair('bay three')
    const wrong = await tablet.signIn('Ebbe', '0000')
    expect([wrong.status, wrong.body.detail]).toEqual([400, expect.stringContaining('not the PIN of Ebbe')])
    const signed = await tablet.signIn('Ebbe', '0815')
    expect(signed.body.me).toMatchObject({ name: 'Ebbe', role: 'technician' })
    expect(signed.cookies[0]).toMatch(/^__Host-uvula-hand=/)
    expect((await tablet.ask('GET', '/api/bay')).status).toBe(200)
    expect((await tablet.write(702, 'Ebbe')).body).toMatchObject({ by: 'Ebbe', value: 702 })
    const forged = await tablet.write(703, 'Runa', 'hold-1500')
    expect([forged.status, forged.body.detail]).toEqual([
      403,
      expect.stringContaining('"Runa" has not signed in on this tablet'),
    ])
    // hands change; what the first one entered before may still come
    expect((await tablet.signIn('Runa', PIN)).status).toBe(200)
    expect((await tablet.write(1500, 'Ebbe', 'hold-1500')).status).toBe(200)
    expect((await tablet.write(2500, 'Runa', 'hold-2500')).status).toBe(200)
  })
  it('of a technician may not change the shop, take its backup or say who comes in; an owner’s may', async () => {
    const tablet = new Tablet()
    await tablet.pair('bay four')
    await tablet.signIn('Ebbe', '0815')
    for (const [method, path] of [
      ['PUT', '/api/shop'],
      ['POST', '/api/shop/open'],
      ['GET', '/api/shop/backup'],
      ['POST', '/api/shop/backups'],
      ['GET', '/api/access/door'],
      ['POST', '/api/access/code'],
      ['POST', '/api/access/people'],
    ] as const)
      expect([path, (await tablet.ask(method, path, method === 'GET' ? undefined : {})).status]).toEqual([path, 403])
    await tablet.signIn('Runa', PIN)
    expect((await tablet.ask('GET', '/api/access/door')).body).toMatchObject({ open: true })
  })
  it('locks one person’s PIN after five wrong ones, for that tablet alone', async () => {
    const [a, b] = [new Tablet(), new Tablet()]
    await a.pair('bay five')
    await b.pair('bay six')
    for (let i = 0; i < 5; i++) expect((await a.signIn('Ebbe', '9999')).status).toBe(400)
    expect((await a.signIn('Ebbe', '0815')).status).toBe(429)
    expect((await b.signIn('Ebbe', '0815')).status).toBe(200)
    expect((await a.signIn('Runa', PIN)).status).toBe(200)
  })
  it('that is forgotten is out at once; so is whoever is removed or gets another PIN', async () => {
    const tablet = new Tablet()
    await tablet.pair('bay seven')
    await tablet.signIn('Ebbe', '0815')
    const ebbe = door().people.find((p) => p.name === 'Ebbe')!.id
    await say('PUT', `people/${ebbe}/pin`, { pin: '5555' })
    expect((await tablet.ask('GET', '/api/bay')).status).toBe(401)
    expect((await tablet.signIn('Ebbe', '5555')).status).toBe(200)
    await say('DELETE', `people/${ebbe}`)
    expect((await tablet.ask('GET', '/api/bay')).status).toBe(401)
    await tablet.signIn('Runa', PIN)
    expect((await tablet.ask('GET', '/api/bay')).status).toBe(200)
    await say('GET', 'door')
    await say('DELETE', `tablets/${door().tablets.find((t) => t.name === 'bay seven')!.id}`)
    expect((await tablet.ask('GET', '/api/access')).body).toMatchObject({ paired: false })
  })
  it('that is out hears no more on a line that it held', async () => {
    const tablet = new Tablet()
    await tablet.pair('bay eleven')
    await tablet.signIn('Runa', PIN)
    const ended = tablet.ask('GET', '/api/visits/visit-vet/together?device=d&by=Runa&stage=look').then(
      () => 'ended',
      () => 'ended',
    )
    await new Promise((r) => setTimeout(r, 300))
    await say('GET', 'door')
    await say('DELETE', `tablets/${door().tablets.find((t) => t.name === 'bay eleven')!.id}`)
    expect(await ended).toBe('ended')
  })
  it('that nobody is signed in on is refused before its body is read', async () => {
    const stranger = new Tablet()
    const { status } = await stranger.ask('PUT', '/api/recordings/big', { content: 'x'.repeat(3_000_000) })
    expect(status).toBe(401)
  })
  it('signs out, and its session is worth nothing on another', async () => {
    const [a, b] = [new Tablet(), new Tablet()]
    await a.pair('bay eight')
    await b.pair('bay nine')
    await a.signIn('Runa', PIN)
    const stolen = a.cookie.split('; ').find((c) => c.startsWith('__Host-uvula-hand'))!
    const lent = await b.ask('GET', '/api/bay', undefined, { cookie: `${b.cookie}; ${stolen}` })
    expect(lent.status).toBe(401)
    await a.ask('POST', '/api/access/sign-out')
    const replayed = await a.ask('GET', '/api/bay', undefined, { cookie: `${a.cookie}; ${stolen}` })
    expect(replayed.status).toBe(401)
  })
  it('is answered under the shop’s own addresses and to its own pages alone', async () => {
    const tablet = new Tablet()
    await tablet.pair('bay ten')
    await tablet.signIn('Runa', PIN)
    expect((await tablet.ask('GET', '/api/bay', undefined, { host: `shop.example:${port}` })).status).toBe(403)
    expect((await tablet.ask('GET', '/api/bay', undefined, { origin: 'https://elsewhere.example' })).status).toBe(403)
    expect((await tablet.ask('GET', '/api/bay', undefined, { origin: `https://127.0.0.1:${port}` })).status).toBe(200)
  })
})

describe('who works here', () => {
  it('the last owner stays one; two of one name are not taken', async () => {
    const runa = door().people[0].id
    const removed = await server.call('DELETE', `/api/access/people/${runa}`)
    expect([removed.status, removed.body.detail]).toEqual([400, expect.stringContaining('only owner')])
    const lowered = await server.call('PUT', `/api/access/people/${runa}/role`, { role: 'technician' })
    expect(lowered.status).toBe(400)
    const twin = await server.call('POST', '/api/access/people', { name: 'runa', pin: '1234', role: 'owner' })
    expect([twin.status, twin.body.field]).toEqual([400, 'name'])
  })
  it('nobody signs in on the shop’s own computer, and its entries need no sign-in', async () => {
    const here = await server.call('POST', '/api/access/sign-in', { person: door().people[0].id, pin: PIN })
    expect([here.status, here.body.detail]).toEqual([409, expect.stringContaining('shop’s computer')])
    expect((await server.call('GET', '/api/access')).body).toMatchObject({ here: true })
    expect((await server.call('GET', '/api/bay')).status).toBe(200)
  })
  it('a shut door answers nobody', async () => {
    await say('PUT', 'door', { open: false })
    await expect(new Tablet().ask('GET', '/api/access')).rejects.toThrow(/ECONNREFUSED/)
  })
})
