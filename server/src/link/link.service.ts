import { randomUUID } from 'node:crypto'
import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import { addFault, HEALTHY, vehicleAtPlace, type SimulatedFaults, type Vehicle } from '@uvula/core'
import type { CodesRead, LinkState } from '@uvula/contract'
import { NO_TROUBLE, USUAL_LINK, VehicleStandIn, type LinkTrouble } from '@uvula/standin'
import { badField, linkProblem, refused } from '../records/problem.js'
import { VisitFiles } from '../records/visit-files.js'
import { openTcpLink, type LinkAddress } from './frame-link.js'
import type { ConnectDto, FootDto, StandInDto, TroubleChoice } from './link.dto.js'
import { LinkSession } from './link-session.js'
import { LinkEnded, NoAnswer, Refused } from './vehicle-client.js'

const LINKS: Readonly<Record<Exclude<TroubleChoice, 'gone'>, LinkTrouble>> = {
  none: NO_TROUBLE,
  usual: USUAL_LINK,
  slow: { ...NO_TROUBLE, latencyMs: 420 },
  garbled: { ...NO_TROUBLE, garbled: 0.04 },
  silent: { ...NO_TROUBLE, silent: true },
  refusing: { ...NO_TROUBLE, refusing: true },
}

const OFF: LinkState = {
  phase: 'off',
  session: '',
  standIn: false,
  trouble: [],
  attempts: 0,
  channels: [],
  rateHz: 0,
  latencyMs: 0,
  unanswered: 0,
  skippedBytes: 0,
  seq: 0,
}

/** The one vehicle link of this server, and the simulated vehicle that may stand at its other end. */
@Injectable()
export class LinkService implements OnModuleDestroy {
  private session: LinkSession | undefined
  private standIn: VehicleStandIn | undefined
  private standInPort = 0
  private readonly waiting = new Set<() => void>()

  /** True once this server closes: streams end. */
  over = false

  constructor(private readonly files: VisitFiles) {}

  get state(): LinkState {
    return this.session?.state ?? OFF
  }

  get current(): LinkSession | undefined {
    return this.session
  }

  /** Called at every sample and change, whichever session is current. */
  onChange(listener: () => void): () => void {
    this.waiting.add(listener)
    return () => this.waiting.delete(listener)
  }

  async connect(dto: ConnectDto): Promise<LinkState> {
    await this.files.get(dto.visitId)
    await this.disconnect()
    return this.begin(dto.visitId, { host: dto.host, port: dto.port }, false)
  }

  /** Puts this visit's car as a simulated one on a port of its own and connects to it. @throws ProblemException */
  async connectStandIn(dto: StandInDto): Promise<LinkState> {
    const vehicle = vehicleAtPlace(await this.files.get(dto.visitId))
    const faults = faultsOf(dto.faults, vehicle)
    await this.disconnect()
    this.standIn = new VehicleStandIn({
      vehicle,
      faults,
      coolantC: dto.coolantC,
      link: dto.link === 'gone' ? NO_TROUBLE : LINKS[dto.link],
    })
    this.standInPort = await this.standIn.listen()
    return this.begin(dto.visitId, { host: '127.0.0.1', port: this.standInPort }, true)
  }

  async disconnect(): Promise<LinkState> {
    this.session?.close()
    await this.standIn?.close()
    this.standIn = undefined
    return this.state
  }

  foot(dto: FootDto): { readonly rpm: number } {
    const standIn = this.theStandIn()
    standIn.drive(dto)
    return { rpm: Math.round(standIn.engine.rpm) }
  }

  /** Spoils the stand-in's link, or lets it be well again. */
  async trouble(link: TroubleChoice): Promise<LinkState> {
    const standIn = this.theStandIn()
    if (link === 'gone') await standIn.hangUp(true)
    else {
      standIn.link = LINKS[link]
      await standIn.listen(this.standInPort)
    }
    return this.state
  }

  async readCodes(): Promise<CodesRead> {
    return this.asked((s) => s.readCodes())
  }

  async clearCodes(understood: boolean): Promise<CodesRead> {
    if (!understood) throw badField('understood', understood, 'true: what clearing wipes has been read')
    return this.asked(async (s) => {
      await s.clearCodes()
      return s.readCodes()
    })
  }

  async onModuleDestroy(): Promise<void> {
    await this.disconnect()
    this.over = true
    this.waiting.forEach((listener) => listener())
  }

  private begin(visitId: string, address: LinkAddress, standIn: boolean): LinkState {
    const session = new LinkSession({ session: randomUUID(), visitId, address, standIn, open: openTcpLink })
    session.onChange(() => this.waiting.forEach((listener) => listener()))
    this.session = session
    this.waiting.forEach((listener) => listener())
    return session.state
  }

  private theStandIn(): VehicleStandIn {
    if (!this.standIn) throw refused('stand-in-only', 'This is for the simulated vehicle, and it is not connected.')
    return this.standIn
  }

  private async asked<T>(work: (s: LinkSession) => Promise<T>): Promise<T> {
    try {
      if (!this.session) throw new LinkEnded('No vehicle is connected now.')
      return await work(this.session)
    } catch (e) {
      if (e instanceof Refused) throw linkProblem(409, `The vehicle refuses: ${e.message}.`)
      if (e instanceof NoAnswer || e instanceof LinkEnded) throw linkProblem(503, e.message)
      throw e
    }
  }
}

function faultsOf(specs: readonly string[], vehicle: Vehicle): SimulatedFaults {
  let faults = HEALTHY
  for (const spec of specs) {
    const added = addFault(faults, spec, vehicle)
    if (!added.ok) throw badField('faults', spec, added.message)
    faults = added.faults
  }
  return faults
}
