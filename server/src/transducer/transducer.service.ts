import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import { HEALTHY, vehicleAtPlace, visitPressureKpa } from '@uvula/core'
import type { TransducerState } from '@uvula/contract'
import { TransducerStandIn } from '@uvula/standin'
import { LineLink, LOST_MS } from '../link/line-link.js'
import type { ConnectDto } from '../link/link.dto.js'
import { refused } from '../records/problem.js'
import { VisitFiles } from '../records/visit-files.js'
import type { HoseDto, TransducerStandInDto } from './transducer.dto.js'

/** So much of what was sent is kept [s]: the longest that can be taken. */
const KEPT_S = 30
/** The mean that is shown is over so long [s]; nothing is shown before so much was heard. */
const MEAN_S = 0.5
/** A longer line is no row: a second of two channels at 20 kHz. */
const MOST_LINE = 600_000
/** Rates that tell cylinders apart, and that a line can carry [Hz]. */
const HZ = { min: 200, max: 20_000 } as const
const WEAK_SHARE = 0.3

/** The one pressure transducer of this server: a line that says its rate and unit, then lines of samples of two channels;
 * a first line once more begins anew. */
@Injectable()
export class TransducerService implements OnModuleDestroy {
  private readonly link = new LineLink('transducer', MOST_LINE)
  private standIn: TransducerStandIn | undefined
  private visitId: string | undefined
  private head: { readonly sampleHz: number; readonly unit: string } | undefined
  private pressure: number[] = []
  private trigger: number[] = []
  private newestMs = 0
  /** The hose was moved: what is still on its way tells of where it was. */
  private moved = false

  constructor(private readonly files: VisitFiles) {}

  get state(): TransducerState {
    const lost = Date.now() - this.newestMs > LOST_MS
    const enough = Math.round(MEAN_S * (this.head?.sampleHz ?? 0))
    const last = this.head && this.pressure.length >= enough ? this.pressure.slice(-enough) : []
    return {
      phase: !this.link.connected ? 'off' : lost ? 'lost' : this.head ? 'running' : 'connecting',
      standIn: this.standIn !== undefined,
      ...(this.visitId ? { visitId: this.visitId } : {}),
      ...(this.standIn ? { hose: this.standIn.hose } : {}),
      ...this.head,
      ...(last.length && !lost ? { mean: last.reduce((s, x) => s + x, 0) / last.length } : {}),
      ...(this.link.message ? { message: this.link.message } : {}),
    }
  }

  async connect(dto: ConnectDto): Promise<TransducerState> {
    await this.files.get(dto.visitId)
    await this.off()
    return this.open(dto.visitId, dto.host, dto.port)
  }

  /** Puts this car's engine, one cylinder of it weak, at a simulated transducer and connects to it. */
  async connectStandIn(dto: TransducerStandInDto): Promise<TransducerState> {
    const file = await this.files.get(dto.visitId)
    const vehicle = vehicleAtPlace(file)
    await this.off()
    const weak = { ...HEALTHY, weakCylinder: 1 + (dto.seed % vehicle.cylinders), weakShare: WEAK_SHARE }
    this.standIn = new TransducerStandIn(vehicle, weak, dto.seed, visitPressureKpa(file.visit))
    return this.open(dto.visitId, '127.0.0.1', await this.standIn.listen())
  }

  private open(visitId: string, host: string, port: number): TransducerState {
    this.visitId = visitId
    this.newestMs = Date.now()
    this.link.open(
      host,
      port,
      (row) => this.take(row),
      () => this.forget(),
    )
    return this.state
  }

  private take(row: unknown): boolean {
    const r = row as { sample_hz?: unknown; unit?: unknown; pressure?: unknown; trigger?: unknown } | null
    if (typeof r?.sample_hz === 'number') {
      if (!(r.sample_hz >= HZ.min && r.sample_hz <= HZ.max)) {
        this.link.tell(`The transducer sends ${r.sample_hz} samples a second; ${HZ.min} to ${HZ.max} can be used.`)
        return true
      }
      this.head = { sampleHz: r.sample_hz, unit: typeof r.unit === 'string' ? r.unit.slice(0, 20) : '' }
      this.moved = false
      this.forget()
      return true
    }
    const numbers = (x: unknown): x is number[] => Array.isArray(x) && x.every((y) => typeof y === 'number')
    if (!this.head || this.moved || !numbers(r?.pressure)) return false
    const marks = numbers(r.trigger) && r.trigger.length === r.pressure.length ? r.trigger : r.pressure.map(() => 0)
    const most = KEPT_S * this.head.sampleHz
    this.pressure = [...this.pressure, ...r.pressure].slice(-most)
    this.trigger = [...this.trigger, ...marks].slice(-most)
    this.newestMs = Date.now()
    return true
  }

  /**
   * The last seconds as a table that every reader of waveforms takes.
   * @throws ProblemException where not so much has been sent since the hose was moved
   */
  capture(seconds: number): string {
    const n = this.head ? Math.round(seconds * this.head.sampleHz) : 0
    if (!this.head || this.pressure.length < n)
      throw refused('not-so-long', `Less than ${seconds} s have been heard: wait, and take it again.`)
    const from = this.pressure.length - n
    const rows = Array.from(
      { length: n },
      (_, k) => `${(k / this.head!.sampleHz).toFixed(5)},${this.pressure[from + k]},${this.trigger[from + k]}`,
    )
    return ['time_s,pressure,trigger', ...rows, ''].join('\n')
  }

  hose(dto: HoseDto): TransducerState {
    if (!this.standIn) throw refused('no-stand-in', 'No simulated transducer is connected: connect to it first.')
    this.moved = true
    this.forget()
    this.standIn.hang(dto.hose)
    return this.state
  }

  private forget(): void {
    this.pressure = []
    this.trigger = []
  }

  async off(): Promise<TransducerState> {
    this.link.close()
    await this.standIn?.close()
    this.standIn = undefined
    this.visitId = undefined
    this.head = undefined
    this.forget()
    return this.state
  }

  async onModuleDestroy(): Promise<void> {
    await this.off()
  }
}
