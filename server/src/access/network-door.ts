import { createServer as createPlain, type RequestListener, type Server } from 'node:http'
import { createServer as createEncrypted } from 'node:https'
import { isIPv4 } from 'node:net'
import { hostname, networkInterfaces } from 'node:os'
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common'
import { HttpAdapterHost } from '@nestjs/core'
import type { Door } from '@uvula/contract'
import { isOwnAddress } from '../link/own-network.js'
import { ACCESS_FILE, type AccessFile } from './access-file.js'
import { AccessService, HANG_UP_AFTER_MS } from './access.service.js'
import { trustPage } from './trust-page.js'
import { markNetwork, type WayIn } from './way-in.js'

/** Where and how the network is served. */
export interface DoorPlace {
  /** Port of the shop; the page about its certificate has the next one. */
  readonly port: number
  /** Address to listen at: all of them, or one. */
  readonly at: string
  /** Without encryption: for a network that nobody else can listen to. */
  readonly plain: boolean
}
export const DOOR_PLACE = 'door-place'

/** What a port says, in words. */
const WORDS: Readonly<Record<string, string>> = {
  EADDRINUSE: 'another program has it: stop that one, or set UVULA_NETWORK_PORT',
  EACCES: 'this program may not take it: set UVULA_NETWORK_PORT to one above 1023',
}

/** Private addresses of this computer, and its name in the shop's network. */
function ownNames(): string[] {
  const addresses = Object.values(networkInterfaces())
    .flatMap((all) => all ?? [])
    .filter((a) => a.family === 'IPv4' && !a.internal && isOwnAddress(a.address))
    .map((a) => a.address)
  const label = hostname().split('.')[0].toLowerCase()
  return [...new Set(addresses), ...(/^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$/.test(label) ? [`${label}.local`] : [])]
}

const listening = (server: Server, port: number, at: string): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, at, () => {
      server.off('error', reject)
      resolve()
    })
  })

/** The way in from the shop's network: shut until an owner opens it, and open again after a restart. */
@Injectable()
export class NetworkDoor implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('network')
  private servers: Server[] = []
  private names: readonly string[] = []
  private print: string | undefined
  private problem: string | undefined

  constructor(
    @Inject(ACCESS_FILE) private readonly file: AccessFile,
    @Inject(DOOR_PLACE) private readonly place: DoorPlace,
    private readonly access: AccessService,
    private readonly adapter: HttpAdapterHost,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    if (this.file.state.open) await this.open()
  }

  onModuleDestroy(): void {
    this.stop()
  }

  /** Opens it, now and after each start; what stands in its way is told in the door. */
  async open(): Promise<void> {
    this.stop()
    this.problem = undefined
    this.names = this.place.at === '0.0.0.0' ? ownNames() : [this.place.at]
    try {
      await this.serve()
      if (!this.file.state.open) this.file.change({ open: true })
      this.log.warn(`Tablets find the shop at ${this.addresses().join(' or ')}`)
    } catch (e) {
      this.stop()
      const { code = '', message } = e as { code?: string; message: string }
      this.problem = WORDS[code]
        ? `Port ${this.place.port} or the next one cannot be opened: ${WORDS[code]}.`
        : `The network cannot be served: ${message}.`
      this.log.error(this.problem)
    }
  }

  /** Shuts it: tablets go on with what they have on hand. */
  shut(): void {
    // whoever said so from a tablet still gets its answer
    this.stop(HANG_UP_AFTER_MS)
    this.problem = undefined
    this.file.change({ open: false })
  }

  door(): Door {
    const { state } = this.file
    const isOpen = this.servers.length > 0
    return {
      open: isOpen,
      ready: this.access.isReady,
      addresses: isOpen ? this.addresses() : [],
      trust: isOpen && !this.place.plain ? this.names.map((n) => `http://${n}:${this.place.port + 1}/`) : [],
      ...(this.print === undefined ? {} : { fingerprint: this.print }),
      plain: this.place.plain,
      people: this.access.people,
      tablets: state.tablets.map(({ id, name, pairedAt, seenAt }) => ({ id, name, pairedAt, seenAt })),
      ...(this.problem === undefined ? {} : { problem: this.problem }),
    }
  }

  /** Addresses of the shop, with a path behind each. */
  addresses(path = '/'): readonly string[] {
    return this.names.map((n) => `${this.way().scheme}://${n}:${this.place.port}${path}`)
  }

  private way(): WayIn {
    return {
      scheme: this.place.plain ? 'http' : 'https',
      hosts: this.names.map((n) => `${n}:${this.place.port}`),
    }
  }

  private async serve(): Promise<void> {
    const { port, at, plain } = this.place
    if (!this.names.some((n) => isIPv4(n)))
      throw new Error('this computer has no address in a private network: connect it to the shop’s first')
    const way = this.way()
    const app = this.adapter.httpAdapter.getInstance<RequestListener>()
    const take: RequestListener = (request, response) => {
      markNetwork(request, way)
      app(request, response)
    }
    if (plain) {
      await this.listen(createPlain(take), port, at)
      return
    }
    // its library is asked for by shops that open the door, and by no others
    const { makeAuthority, makeServerCredential, stillHolds, toTrust } = await import('./certificate.js')
    const authority = this.file.state.authority ?? (await makeAuthority())
    const held = this.file.state.server
    const server = held && stillHolds(held, this.names) ? held : await makeServerCredential(authority, this.names)
    this.file.change({ authority, server })
    const { der, print } = await toTrust(authority)
    this.print = print
    await this.listen(
      createEncrypted({ key: server.key, cert: [server.certificate, authority.certificate].join('\n') }, take),
      port,
      at,
    )
    await this.listen(createPlain(trustPage(der, print, (host) => `https://${host}:${port}/`)), port + 1, at)
  }

  private async listen(server: Server, port: number, at: string): Promise<void> {
    this.servers.push(server)
    await listening(server, port, at)
  }

  /** Takes no more connections, and ends those that stand. */
  private stop(afterMs = 0): void {
    const { servers } = this
    this.servers = []
    for (const server of servers) server.close()
    // a tablet's line for what others write is open for as long as its page is
    const hangUp = (): void => servers.forEach((s) => s.closeAllConnections())
    if (afterMs) setTimeout(hangUp, afterMs).unref()
    else hangUp()
  }
}
