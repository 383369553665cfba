import {
  evidenceFromRecording,
  feltTick,
  findOperatingPoints,
  HEALTHY,
  idleChannels,
  lookItemsOf,
  simulateRecording,
  sheetOf,
  diagnoseVisit,
  writeRecordingCsv,
  type ChannelId,
  type Felt,
  type FindingRecord,
  type PhotoRecord,
  type ReadingRecord,
  type RecordingRecord,
  type RecordMeta,
  type RepairRecord,
  type ReportRecord,
  type SimulatedFaults,
  type Slot,
  type VisitFile,
  type VisitRecord,
} from '@uvula/core'
import { createHash } from 'node:crypto'
import { SHOP_ALTITUDE_M, type DemoCar, type Seen } from './cars.js'

/** Who works here. */
const TECHNICIAN = 'Runa'

/** Builds one visit step by step, as it would be entered, from the simulated engine's own figures. */
export class VisitMaker {
  private readonly readings: ReadingRecord[] = []
  private readonly findings: FindingRecord[] = []
  private readonly repairs: RepairRecord[] = []
  private readonly recordings: RecordingRecord[] = []
  private readonly reports: ReportRecord[] = []
  private clockMs: number
  /** What the service half holds, by noun. */
  private readonly service: Pick<
    VisitFile,
    'items' | 'counts' | 'steps' | 'ticks' | 'runs' | 'timers' | 'codes' | 'balances' | 'quotes'
  > = {
    items: [],
    counts: [],
    steps: [],
    ticks: [],
    runs: [],
    timers: [],
    codes: [],
    balances: [],
    quotes: [],
  }
  readonly blobs: { mime: string; base64: string }[] = []
  private state: VisitRecord['state'] = 'open'

  constructor(
    private readonly car: DemoCar,
    private readonly id: string,
    openedAtMs: number,
    private readonly opened: Pick<VisitRecord, 'intent' | 'complaint' | 'signs' | 'conditions' | 'ambientC'>,
  ) {
    this.clockMs = openedAtMs
    this.openedAt = new Date(openedAtMs).toISOString()
  }

  private readonly openedAt: string

  private meta(id: string, minutesLater = 1): RecordMeta {
    this.clockMs += minutesLater * 60_000
    return { id, version: 1, by: TECHNICIAN, at: new Date(this.clockMs).toISOString() }
  }

  /** Types the readings of some points off a simulated drive. */
  typed(round: number, faults: Partial<SimulatedFaults>, slots: readonly Slot[], seed: number): this {
    const r = simulateRecording({
      vehicle: this.car.spec,
      faults: { ...HEALTHY, ...faults },
      drive: 'shop',
      seed,
      ambientC: this.opened.ambientC,
    })
    const points = findOperatingPoints(r, this.car.spec)
    for (const slot of slots) {
      const p = points.find((x) =>
        slot === 'idle'
          ? x.kind === 'idle'
          : slot === 'idle-load'
            ? x.kind === 'idle-load'
            : x.kind === 'hold' && Math.abs(x.rpm - (slot === 'hold-1500' ? 1500 : 2500)) < 200,
      )
      if (!p) throw new Error(`${this.car.key}: the simulated engine gave no ${slot}`)
      for (const channel of idleChannels(this.car.spec)) {
        const value = p.means[channel]
        if (value === undefined) continue
        const rounded = Number(value.toFixed(channel === 'rpm' ? 0 : channel === 'maf_gs' ? 2 : 1))
        this.readings.push({
          ...this.meta(`${this.id}:${round}:${slot}:${channel}`, 0.2),
          visitId: this.id,
          round,
          slot,
          channel,
          value: rounded,
          typed: String(rounded),
        })
      }
    }
    return this
  }

  /** Types given figures at one point. */
  read(round: number, slot: Slot, values: Partial<Record<ChannelId, number>>): this {
    for (const [channel, value] of Object.entries(values) as [ChannelId, number][])
      this.readings.push({
        ...this.meta(`${this.id}:${round}:${slot}:${channel}`, 0.2),
        visitId: this.id,
        round,
        slot,
        channel,
        value,
        typed: String(value),
      })
    return this
  }

  /** Drops a recording of a simulated drive. */
  recorded(round: number, faults: Partial<SimulatedFaults>, drive: 'shop' | 'road', seed: number, name: string): this {
    const r = simulateRecording({
      vehicle: this.car.spec,
      faults: { ...HEALTHY, ...faults },
      drive,
      seed,
      ambientC: this.opened.ambientC,
    })
    const text = writeRecordingCsv(r)
    const bytes = Buffer.from(text)
    this.blobs.push({ mime: 'text/csv', base64: bytes.toString('base64') })
    const { points, closedThrottlePct } = evidenceFromRecording(r, this.car.spec)
    this.recordings.push({
      ...this.meta(`${this.id}:rec:${round}`, 4),
      visitId: this.id,
      round,
      name,
      sha256: createHash('sha256').update(bytes).digest('hex'),
      bytes: bytes.length,
      rows: r.rows,
      points,
      closedThrottlePct,
      warnings: [],
    })
    return this
  }

  /** Walks the pipe: everything sound but what is listed; `upTo` stops after so many items. */
  looked(seen: readonly Seen[], upTo = Infinity): this {
    lookItemsOf(this.car.spec)
      .slice(0, upTo)
      .forEach((item) => {
        const bad = seen.find((s) => s.item === item.id)
        this.findings.push({
          ...this.meta(`${this.id}:look:${item.id}`, 0.3),
          visitId: this.id,
          test: 'look',
          station: item.station,
          item: item.id,
          outcome: bad ? 'fail' : 'pass',
          ...(bad ? { note: bad.note } : {}),
        })
      })
    return this
  }

  tried(
    test: string,
    station: FindingRecord['station'],
    outcome: FindingRecord['outcome'],
    more: Partial<FindingRecord> = {},
  ): this {
    this.findings.push({
      ...this.meta(`${this.id}:${test}:${station}`, 3),
      visitId: this.id,
      test,
      station,
      outcome,
      ...more,
    })
    return this
  }

  mended(station: RepairRecord['station'], kind: RepairRecord['kind'], more: Partial<RepairRecord>): this {
    this.repairs.push({
      ...this.meta(`${this.id}:repair:${station}:${kind}`, 12),
      visitId: this.id,
      station,
      kind,
      state: 'done',
      afterRound: 0,
      temporary: false,
      minutes: 10,
      partsPrice: 4,
      conditions: [],
      ...more,
    })
    return this
  }

  /** Puts a record of the service half in. */
  with<N extends keyof VisitMaker['service']>(
    noun: N,
    key: string,
    data: Omit<VisitFile[N][number], keyof RecordMeta | 'visitId'>,
  ): this {
    return this.put(noun, `${this.id}:${noun}:${key}`, data)
  }

  private put(noun: keyof VisitMaker['service'], id: string, data: object): this {
    const record = { ...this.meta(id, 2), visitId: this.id, ...data }
    ;(this.service[noun] as unknown[]).push(record)
    return this
  }

  /** What became of a sign that it came with, in a round after work. */
  felt(sign: string, felt: Felt, round: number): this {
    const caution = feltTick(sign, felt, round)
    return this.put('ticks', `${this.id}:${caution}`, { caution })
  }

  handedOver(labourPerHour: number): this {
    const file = this.file()
    const issued = this.meta(`${this.id}:sheet:1`, 5)
    this.reports.push({
      ...issued,
      visitId: this.id,
      number: 1,
      issuedAt: issued.at,
      sheet: sheetOf(file, diagnoseVisit(file, 0), labourPerHour),
    })
    this.state = 'handed-over'
    return this
  }

  file(): VisitFile {
    const first = { version: 1, by: TECHNICIAN, at: this.openedAt }
    return {
      format: 'uvula-visit',
      formatVersion: 1,
      vehicle: {
        ...first,
        id: `car-${this.car.key}`,
        plate: this.car.plate,
        customer: this.car.customer,
        spec: this.car.spec,
      },
      visit: {
        ...first,
        id: this.id,
        vehicleId: `car-${this.car.key}`,
        openedAt: this.openedAt,
        state: this.state,
        odometerKm: this.car.odometerKm,
        altitudeM: SHOP_ALTITUDE_M,
        ...this.opened,
      },
      readings: this.readings,
      findings: this.findings,
      repairs: this.repairs,
      recordings: this.recordings,
      photos: [] as PhotoRecord[],
      reports: this.reports,
      ...this.service,
    }
  }
}
