import { createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import {
  answerRequest,
  AT_IDLE,
  CAN_IDS,
  canFrame,
  drivenEngine,
  encodeFrame,
  FrameDecoder,
  Reassembler,
  refuse,
  seededRandom,
  segment,
  take,
  type CanFrame,
  type Controller,
  type SimulatedEngine,
  type SimulatedFaults,
  type Vehicle,
} from '@uvula/core'
import { carController } from './carController.js'
import { after, controlsOf, type Foot } from './foot.js'

/** What can be wrong with a link, to try a tool against it. */
export interface LinkTrouble {
  /** Time from a request to its answer [ms]. */
  readonly latencyMs: number
  /** Share of frames in which a byte is spoilt, 0..1. */
  readonly garbled: number
  /** Takes requests and says nothing. */
  readonly silent: boolean
  /** Answers every request with "busy: ask again". */
  readonly refusing: boolean
}

export const NO_TROUBLE: LinkTrouble = { latencyMs: 3, garbled: 0, silent: false, refusing: false }
/** As most links are: with twenty channels one to three rows a second. */
export const USUAL_LINK: LinkTrouble = { ...NO_TROUBLE, latencyMs: 190 }

/** Which car stands there. */
export interface StandInSetup {
  readonly vehicle: Vehicle
  readonly faults?: SimulatedFaults
  readonly seed?: number
  readonly link?: LinkTrouble
  /** Coolant at the beginning [°C]; warm when left out. */
  readonly coolantC?: number
}

/** How often the engine is brought up to the wall clock [ms]. */
const TICK_MS = 25
/** Beyond this the machine slept: the time is left out [s]. */
const MOST_CATCH_UP_S = 2
const BUSY = 0x21

/**
 * A vehicle on a local TCP port: the simulated engine in real time, answering SAE J1979 in ISO 15765-2 frames, thirteen
 * bytes each (identifier, length, eight of data). One tool at a time: a second is hung up on.
 */
export class VehicleStandIn {
  readonly engine: SimulatedEngine
  link: LinkTrouble
  private readonly controller: Controller
  private readonly random: () => number
  private readonly server: Server
  private client: Socket | undefined
  private timer: NodeJS.Timeout | undefined
  private footTimer: NodeJS.Timeout | undefined
  private last = 0

  constructor(setup: StandInSetup) {
    const seed = setup.seed ?? 1
    this.engine = drivenEngine({ vehicle: setup.vehicle, faults: setup.faults, seed, coolantC: setup.coolantC }, true)
    this.engine.controls = AT_IDLE
    this.controller = carController(this.engine, seed)
    this.random = seededRandom(seed ^ 0x9e3779b9)
    this.link = setup.link ?? NO_TROUBLE
    this.server = createServer({ noDelay: true }, (socket) => this.meet(socket))
  }

  /** Begins to run and listens on 127.0.0.1. @returns the port @throws when it is taken */
  async listen(port = 0): Promise<number> {
    if (!this.server.listening)
      await new Promise<void>((resolve, reject) => {
        this.server.once('error', reject)
        this.server.listen(port, '127.0.0.1', resolve)
      })
    if (!this.timer) this.last = performance.now()
    this.timer ??= setInterval(() => this.catchUp(), TICK_MS)
    return this.port
  }

  /** The port it listens on. */
  get port(): number {
    return (this.server.address() as AddressInfo).port
  }

  /** Does what the driver's foot or hand does. */
  drive(foot: Foot): void {
    clearTimeout(this.footTimer)
    this.catchUp()
    if (foot.kind === 'start' && this.engine.running) return this.drive({ kind: 'idle' })
    take(this.engine, { seconds: 0, controls: controlsOf(foot) })
    const seconds = after(foot.kind)
    if (seconds !== undefined) this.footTimer = setTimeout(() => this.drive({ kind: 'idle' }), 1000 * seconds)
  }

  /** Hangs up on whoever is connected; with `away` nobody is answered until `listen` is called again. */
  async hangUp(away: boolean): Promise<void> {
    this.client?.destroy()
    this.client = undefined
    if (away && this.server.listening) await new Promise((r) => this.server.close(r))
  }

  async close(): Promise<void> {
    clearInterval(this.timer)
    clearTimeout(this.footTimer)
    this.timer = undefined
    await this.hangUp(true)
  }

  private catchUp(): void {
    const now = performance.now()
    const seconds = Math.min(MOST_CATCH_UP_S, (now - this.last) / 1000)
    // whole control periods only: the rest is kept for the next time
    if (seconds < 0.01) return
    const whole = Math.floor(seconds * 100) / 100
    this.last = now - 1000 * (seconds - whole)
    this.engine.advance(whole)
  }

  private meet(socket: Socket): void {
    if (this.client) return void socket.destroy()
    this.client = socket
    const decoder = new FrameDecoder()
    const parts = new Reassembler()
    let waiting: (() => void) | undefined
    socket.on('error', () => socket.destroy())
    socket.on('close', () => {
      if (this.client === socket) this.client = undefined
    })
    socket.on('data', (bytes) => {
      for (const frame of decoder.feed(bytes)) {
        if (frame.id !== CAN_IDS.everybody && frame.id !== CAN_IDS.request) continue
        const got = parts.accept(frame.data)
        if (got.kind === 'first') this.send(socket, canFrame(CAN_IDS.answer, [0x30, 0, 0]))
        if (got.kind === 'flow' && got.status === 'continue') {
          waiting?.()
          waiting = undefined
        }
        if (got.kind === 'message')
          this.answer(socket, got.message, frame.id === CAN_IDS.everybody, (rest) => (waiting = rest))
      }
    })
  }

  private answer(socket: Socket, request: Uint8Array, toEverybody: boolean, wait: (rest: () => void) => void): void {
    if (this.link.silent) return
    setTimeout(() => {
      this.catchUp()
      const message = this.link.refusing
        ? refuse(request[0], BUSY)
        : answerRequest(request, this.controller, toEverybody)
      if (!message) return
      const [first, ...rest] = segment(message)
      const send = (data: Uint8Array): void => this.send(socket, canFrame(CAN_IDS.answer, data))
      if (rest.length) wait(() => rest.forEach(send))
      send(first)
    }, this.link.latencyMs)
  }

  private send(socket: Socket, frame: CanFrame): void {
    if (socket.destroyed) return
    const bytes = encodeFrame(frame)
    if (this.random() < this.link.garbled) {
      // a lost byte puts everything after it out of step; a changed one spoils its frame
      if (this.random() < 0.3) return void socket.write(bytes.subarray(0, 12))
      bytes[Math.floor(this.random() * bytes.length)] ^= 1 + Math.floor(255 * this.random())
    }
    socket.write(bytes)
  }
}
