import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import { adjustersOf, vehicleAtPlace } from '@uvula/core'
import type { GaugesState } from '@uvula/contract'
import { GaugesStandIn } from '@uvula/standin'
import { LineLink, LOST_MS } from '../link/line-link.js'
import type { ConnectDto } from '../link/link.dto.js'
import { badField, refused } from '../records/problem.js'
import { VisitFiles } from '../records/visit-files.js'
import type { GaugesStandInDto, SpeedDto, TurnDto } from './gauges.dto.js'

/** Figures are a mean over so long: pulses jitter [ms]. */
const MEAN_MS = 1000
/** A longer line is no row. */
const MOST_LINE = 4000

/** The one box of vacuum gauges of this server: a line of JSON a row, {"vacuum_kpa":[…]}. */
@Injectable()
export class GaugesService implements OnModuleDestroy {
  private readonly link = new LineLink('gauges', MOST_LINE)
  private standIn: GaugesStandIn | undefined
  private visitId: string | undefined
  private rows: { readonly atMs: number; readonly kpa: readonly number[] }[] = []
  private beganMs = 0

  constructor(private readonly files: VisitFiles) {}

  get state(): GaugesState {
    const now = Date.now()
    const recent = this.rows.filter((r) => now - r.atMs <= MEAN_MS)
    const newest = this.rows.at(-1)
    const lost = now - (newest?.atMs ?? this.beganMs) > LOST_MS
    const n = newest?.kpa.length ?? 0
    const same = recent.filter((r) => r.kpa.length === n)
    return {
      phase: !this.link.connected ? 'off' : lost ? 'lost' : newest ? 'running' : 'connecting',
      standIn: this.standIn !== undefined,
      rows: same.length,
      ...(this.visitId ? { visitId: this.visitId } : {}),
      ...(this.standIn ? { speed: this.standIn.speed } : {}),
      ...(same.length && !lost
        ? { vacuumKpa: Array.from({ length: n }, (_, i) => same.reduce((s, r) => s + r.kpa[i], 0) / same.length) }
        : {}),
      ...(this.link.message ? { message: this.link.message } : {}),
    }
  }

  async connect(dto: ConnectDto): Promise<GaugesState> {
    await this.files.get(dto.visitId)
    await this.off()
    return this.open(dto.visitId, dto.host, dto.port)
  }

  /** Puts this car's throttles as simulated ones on a port of their own and connects to them. */
  async connectStandIn(dto: GaugesStandInDto): Promise<GaugesState> {
    const vehicle = vehicleAtPlace(await this.files.get(dto.visitId))
    if (vehicle.throttleBodies < 2)
      throw badField('visitId', dto.visitId, 'a visit of an engine with two throttles or more')
    await this.off()
    this.standIn = new GaugesStandIn(vehicle, dto.seed)
    return this.open(dto.visitId, '127.0.0.1', await this.standIn.listen())
  }

  private open(visitId: string, host: string, port: number): GaugesState {
    this.visitId = visitId
    this.beganMs = Date.now()
    this.link.open(
      host,
      port,
      (row) => this.take(row),
      () => (this.rows = []),
    )
    return this.state
  }

  private take(row: unknown): boolean {
    const kpa = (row as { vacuum_kpa?: unknown } | null)?.vacuum_kpa
    if (!Array.isArray(kpa) || !(kpa.length >= 1 && kpa.length <= 12)) return false
    if (!kpa.every((x) => typeof x === 'number' && x >= -20 && x <= 105)) return false
    const now = Date.now()
    this.rows = [...this.rows.filter((r) => now - r.atMs <= MEAN_MS), { atMs: now, kpa: kpa as number[] }]
    return true
  }

  turn(dto: TurnDto): GaugesState {
    const standIn = this.practised()
    const adjuster = adjustersOf(dto.layout, standIn.row.throttles).find((a) => a.id === dto.adjuster)
    if (!adjuster) throw badField('adjuster', dto.adjuster, 'one of this layout')
    standIn.row.turn(standIn.speed, adjuster.moves, dto.turns)
    // what was read before the turn is not read any more
    this.rows = []
    return this.state
  }

  speed(dto: SpeedDto): GaugesState {
    this.practised().speed = dto.speed
    this.rows = []
    return this.state
  }

  private practised(): GaugesStandIn {
    if (!this.standIn) throw refused('no-stand-in', 'No simulated throttles are connected: connect to them first.')
    return this.standIn
  }

  async off(): Promise<GaugesState> {
    this.link.close()
    await this.standIn?.close()
    this.standIn = undefined
    this.visitId = undefined
    this.rows = []
    return this.state
  }

  async onModuleDestroy(): Promise<void> {
    await this.off()
  }
}
