import { performance } from 'node:perf_hooks'
import { channelProblem, SERVICE, valuesOf, type ChannelId } from '@uvula/core'
import type { CodesRead, LinkPhase, LinkState, LinkTroubleKind } from '@uvula/contract'
import { clearCodes, readCodes } from './codes.js'
import { discover, type Discovered } from './discovery.js'
import type { FrameLink, LinkAddress, OpenLink } from './frame-link.js'
import { PollPlan, type Request } from './poll-plan.js'
import { SampleRing } from './sample-ring.js'
import { LinkEnded, NoAnswer, Refused, VehicleClient } from './vehicle-client.js'

/** The fastest that rows are taken [ms]. */
const ROUND_MS = 100
/** Share of a round that requests may fill. */
const FILL = 0.8
/** Pauses between attempts to come back [ms]; the last one repeats. */
const PAUSES_MS = [500, 1000, 2000, 4000, 8000] as const
const SLOW_MS = 250
/** A trouble that has not shown for so long is over [ms]. */
const TROUBLE_FADES_MS = 4000
/** Attempts end after so long in vain: where no vehicle has answered yet, and where one has, whose key may be off for a while [ms]. */
const GIVES_UP_MS = { unmet: 3 * 60_000, met: 15 * 60_000 } as const
/** A vehicle that hangs up this soon has not been spoken to [ms]. */
const AT_ONCE_MS = 500
/** What explains the others comes first: spoilt bytes leave requests unanswered too. */
const CAUSES_FIRST: readonly LinkTroubleKind[] = ['garbled', 'refusing', 'silent', 'slow']
/** Rounds over which the rate is taken. */
const RATE_OVER = 20

/** Whom a session speaks to. */
export interface SessionSetup {
  readonly session: string
  readonly visitId: string
  readonly address: LinkAddress
  readonly standIn: boolean
  readonly open: OpenLink
  /** Other bounds for attempts in vain [ms]. */
  readonly givesUpMs?: { readonly unmet: number; readonly met: number }
}

/**
 * The one answer for an address at which no vehicle has spoken, whether nothing is there, something hangs up or something is
 * silent: what else stands on the shop's network is nobody's to learn by it.
 */
const noVehicle = (at: string): string =>
  `No vehicle answers at ${at}: see that the adapter is plugged in and switched on, that no other tool holds it, and that the key is on.`

/**
 * One connection as a person means it: it finds out what the vehicle gives, polls it, and after a loss tries to come
 * back by itself, for a while or until it is told to stop. Time goes on meanwhile, so that a gap stays a gap.
 */
export class LinkSession {
  readonly ring = new SampleRing()
  private phase: LinkPhase = 'connecting'
  private message: string | undefined
  private attempts = 0
  private nextTryMs: number | undefined
  private found: Discovered | undefined
  private client: VehicleClient | undefined
  private ended = false
  private wake: (() => void) | undefined
  private unanswered = 0
  private skippedBefore = 0
  private skippedSeen = 0
  private readonly troubleAt = new Map<LinkTroubleKind, number>()
  private readonly began = performance.now()
  private readonly rounds: number[] = []
  private readonly listeners = new Set<() => void>()

  constructor(private readonly setup: SessionSetup) {
    void this.run()
  }

  /** Called at every sample and every change of state. @returns a function that ends it */
  onChange(listener: () => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  get state(): LinkState {
    const { session, visitId, address, standIn } = this.setup
    const now = performance.now()
    return {
      phase: this.phase,
      session,
      visitId,
      address: `${address.host}:${address.port}`,
      standIn,
      message: this.message,
      trouble: CAUSES_FIRST.filter((kind) => now - (this.troubleAt.get(kind) ?? -Infinity) < TROUBLE_FADES_MS),
      attempts: this.attempts,
      nextTryMs: this.nextTryMs,
      channels: this.found ? [...new Set(this.found.sources.map((s) => s.row.channel))] : [],
      vin: this.found?.vin,
      rateHz: this.rateHz,
      latencyMs: this.found ? Math.round(this.client?.latencyMs ?? 0) : 0,
      unanswered: this.unanswered,
      // of what is no vehicle nothing is told
      skippedBytes: this.found ? this.skippedBefore + (this.client?.skippedBytes ?? 0) : 0,
      seq: this.ring.seq,
    }
  }

  /** @throws LinkEnded when there is no vehicle now */
  readCodes(): Promise<CodesRead> {
    return readCodes(this.reached())
  }

  /** @throws LinkEnded, NoAnswer, Refused */
  clearCodes(): Promise<void> {
    return clearCodes(this.reached())
  }

  /** Ends it for good. */
  close(): void {
    if (this.ended) return
    this.ended = true
    this.client?.close()
    this.wake?.()
    this.set('off', undefined)
  }

  private reached(): VehicleClient {
    if (this.phase !== 'live' || !this.client) throw new LinkEnded('No vehicle is connected now.')
    return this.client
  }

  private async run(): Promise<void> {
    let since = performance.now()
    while (!this.ended) {
      const why = await this.connection()
      if (this.ended) return
      if (this.attempts === 0) since = performance.now()
      const bounds = this.setup.givesUpMs ?? GIVES_UP_MS
      if (performance.now() - since >= (this.found ? bounds.met : bounds.unmet)) {
        this.close()
        this.set('off', `${why} It is tried no longer: connect again when it is ready.`)
        return
      }
      const pause = PAUSES_MS[Math.min(this.attempts, PAUSES_MS.length - 1)]
      this.attempts++
      this.nextTryMs = pause
      this.set('lost', why)
      await this.sleep(pause)
      this.nextTryMs = undefined
    }
  }

  /** One connection from its beginning to its end. @returns why it ended */
  private async connection(): Promise<string> {
    const { address, open } = this.setup
    let link: FrameLink
    const at = `${address.host}:${address.port}`
    this.set('connecting', this.message)
    try {
      link = await open(address)
    } catch {
      return this.found ? `Nothing answers at ${at}: is the adapter plugged in and switched on?` : noVehicle(at)
    }
    if (this.ended) {
      link.close()
      return ''
    }
    const met = performance.now()
    const client = new VehicleClient(link)
    this.client = client
    try {
      if (this.found) this.set('discovering', this.message)
      const found = await discover(client)
      if (this.found?.vin !== undefined && found.vin !== undefined && found.vin !== this.found.vin) {
        this.close()
        this.set('off', `Another vehicle answers at ${at}: connect anew to record it.`)
        return ''
      }
      this.found = found
      this.attempts = 0
      this.set('live', undefined)
      await this.poll(client, new PollPlan(found))
      return ''
    } catch (e) {
      client.close()
      if (!this.found) return noVehicle(at)
      if (e instanceof NoAnswer) return 'The adapter is there, the vehicle does not answer: is its key on?'
      if (e instanceof LinkEnded)
        return performance.now() - met < AT_ONCE_MS
          ? 'It hung up at once: another tool may be connected to it.'
          : 'The link was lost. What was recorded is kept.'
      // whatever else goes wrong ends this attempt, not the server
      return `The link failed: ${(e as Error).message}.`
    } finally {
      this.skippedBefore += client.skippedBytes
      this.client = undefined
    }
  }

  private async poll(client: VehicleClient, plan: PollPlan): Promise<void> {
    this.rounds.length = 0
    this.skippedSeen = 0
    let next = performance.now()
    for (;;) {
      const room = client.latencyMs > 0 ? (FILL * ROUND_MS) / client.latencyMs : 1
      const values: Partial<Record<ChannelId, number>> = {}
      // the time of a row is when its first answer came: what moves fast is asked first
      let t: number | undefined
      for (const request of plan.round(room)) {
        const got = await this.asked(client, request)
        if (!got) continue
        t ??= (performance.now() - this.began) / 1000
        Object.assign(values, got)
      }
      this.watch(client)
      if (t !== undefined) {
        this.ring.add(Math.round(1000 * t) / 1000, values)
        this.rounds.push(performance.now())
        if (this.rounds.length > RATE_OVER) this.rounds.shift()
      }
      this.tell()
      next = Math.max(next + ROUND_MS, performance.now())
      await new Promise((r) => setTimeout(r, next - performance.now()))
    }
  }

  /** @returns what came, or undefined when this request brought nothing. @throws LinkEnded */
  private async asked(
    client: VehicleClient,
    request: Request,
  ): Promise<Partial<Record<ChannelId, number>> | undefined> {
    const pids = request.sources.map((s) => s.row.pid)
    try {
      const message = await client.ask([SERVICE.current, ...pids], request.controller, (m) => pids.includes(m[1]))
      const wanted = new Set(request.sources.map((s) => s.row.channel))
      const values = Object.entries(valuesOf(message, SERVICE.current)) as [ChannelId, number][]
      // a spoilt byte can still decode: what is not physics is left out
      return Object.fromEntries(values.filter(([id, x]) => wanted.has(id) && channelProblem(id, x) === undefined))
    } catch (e) {
      if (e instanceof NoAnswer) {
        this.unanswered++
        this.trouble('silent')
        return undefined
      }
      if (e instanceof Refused) {
        this.trouble('refusing')
        return undefined
      }
      throw e
    }
  }

  private watch(client: VehicleClient): void {
    const spoilt = client.skippedBytes + client.broken
    if (spoilt > this.skippedSeen) this.trouble('garbled')
    this.skippedSeen = spoilt
    if (client.latencyMs > SLOW_MS) this.trouble('slow')
  }

  private get rateHz(): number {
    const n = this.rounds.length
    if (n < 2) return 0
    return Math.round((10_000 * (n - 1)) / (this.rounds[n - 1] - this.rounds[0])) / 10
  }

  private trouble(kind: LinkTroubleKind): void {
    this.troubleAt.set(kind, performance.now())
  }

  private set(phase: LinkPhase, message: string | undefined): void {
    this.phase = phase
    this.message = message
    this.tell()
  }

  private tell(): void {
    for (const listener of this.listeners) listener()
  }

  private sleep(ms: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, ms)
      this.wake = () => {
        clearTimeout(timer)
        resolve()
      }
    })
  }
}
