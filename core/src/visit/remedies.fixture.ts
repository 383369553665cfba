import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { planFeed } from '../cleaning/index.js'
import { feedRunState, KEY_PEDAL_RELEARN, type RunEvent } from '../procedures/index.js'
import { emptyVisit } from './figures.js'
import { idleChannels } from './points.js'
import {
  SLOTS,
  type FindingRecord,
  type ReadingRecord,
  type RepairRecord,
  type RunRecord,
  type Slot,
  type StepRecord,
  type VisitFile,
} from './records.js'

/** A moment of the test's day, so many minutes after nine. */
export const at = (minutes: number): string => new Date(Date.UTC(2026, 0, 1, 9, minutes)).toISOString()
export const meta = (id: string, minutes: number): { id: string; version: number; by: string; at: string } => ({
  id,
  version: 1,
  by: 'R',
  at: at(minutes),
})

/** A visit of a four with an airflow sensor, empty but for what is given. */
export function visitOf(part: Partial<VisitFile> = {}, spec: Partial<Vehicle> = {}): VisitFile {
  const vehicle = {
    ...meta('car', 0),
    plate: 'T 1',
    customer: '',
    spec: { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'test car', altitudeM: 0, ...spec },
  }
  const visit: VisitFile['visit'] = {
    ...meta('v', 0),
    vehicleId: 'car',
    openedAt: at(0),
    state: 'open',
    intent: 'complaint',
    complaint: '',
    signs: ['idle-hunts'],
    conditions: [],
    altitudeM: 0,
    ambientC: 15,
  }
  return { ...emptyVisit(vehicle, visit), ...part }
}

/** One reading. */
export const reading = (
  round: number,
  slot: Slot,
  channel: ReadingRecord['channel'],
  value: number,
  minutes = 1 + 20 * round,
): ReadingRecord => ({
  ...meta(`v:${round}:${slot}:${channel}`, minutes),
  visitId: 'v',
  round,
  slot,
  channel,
  value,
  typed: String(value),
})

/** A whole warm idle of a round: long trim, speed, airflow as given, the rest as it should be. */
export function idleOf(
  round: number,
  x: { readonly trim?: number; readonly rpm?: number; readonly maf?: number } = {},
): ReadingRecord[] {
  const values = {
    rpm: x.rpm ?? 680,
    maf_gs: x.maf ?? 2.4,
    stft1_pct: 0,
    ltft1_pct: x.trim ?? 0,
    throttle_pct: 2,
    battery_v: 14.1,
  }
  return idleChannels(visitOf().vehicle.spec)
    .filter((id) => id in values)
    .map((id) => reading(round, 'idle', id, values[id as keyof typeof values]))
}

/** The same trim and airflow at a held speed. */
export const holdOf = (round: number, trim: number, maf: number): ReadingRecord[] => [
  reading(round, 'hold-2500', 'rpm', SLOTS['hold-2500'].rpm!),
  reading(round, 'hold-2500', 'maf_gs', maf),
  reading(round, 'hold-2500', 'stft1_pct', 0),
  reading(round, 'hold-2500', 'ltft1_pct', trim),
]

export const repairAt = (
  station: RepairRecord['station'],
  afterRound: number,
  part: Partial<RepairRecord> = {},
  minutes = 10 + 20 * afterRound,
): RepairRecord => ({
  ...meta(`v:repair:${station}:${afterRound}:${part.kind ?? ''}`, minutes),
  visitId: 'v',
  station,
  kind: 'refit',
  state: 'done',
  afterRound,
  temporary: false,
  minutes: 10,
  partsPrice: 4,
  conditions: [],
  ...part,
})

export const stepAt = (part: Partial<StepRecord> = {}, minutes = 10): StepRecord => ({
  ...meta(`v:step:${part.surface ?? 'airflow-element'}`, minutes),
  visitId: 'v',
  station: 'airflow-sensor',
  surface: 'airflow-element',
  product: 'airflow-cleaner',
  method: 'off-the-car',
  passed: true,
  afterRound: 0,
  ...part,
})

export const foundAt = (item: string, note: string): FindingRecord => ({
  ...meta(`v:look:${item}`, 2),
  visitId: 'v',
  test: 'look',
  station: item.split('.')[0] as FindingRecord['station'],
  item,
  outcome: 'fail',
  note,
})

/** A key-and-pedal relearn that the controller took, every step at its time. */
export function taught(afterRound = 0, minutes = 12): RunRecord {
  let ms = Date.parse(at(minutes))
  const events: RunEvent[] = [{ kind: 'begin', atMs: ms }]
  for (const { rule } of KEY_PEDAL_RELEARN.steps) {
    if (rule.kind === 'count') {
      for (let i = 0; i < rule.times; i++) events.push({ kind: 'tap', atMs: (ms += 900) })
      continue
    }
    ms += 1000 * (rule.kind === 'until' ? 10 : rule.kind === 'at-most' ? rule.seconds / 2 : rule.seconds)
    events.push({ kind: 'tap', atMs: ms })
  }
  return {
    ...meta('v:run:taught', minutes),
    visitId: 'v',
    procedure: KEY_PEDAL_RELEARN.id,
    attempt: 1,
    preconditions: KEY_PEDAL_RELEARN.preconditions.map((p) => p.id),
    events,
    afterRound,
  }
}

/** A feed that went in so many shots, one shot and pause after another; all of them when left out. */
export function fed(shots = Infinity, minutes = 10, spec: Partial<Vehicle> = {}): RunRecord {
  const feed: NonNullable<RunRecord['feed']> = {
    method: 'metered-port',
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 60,
    labelMaxMl: 250,
    point: 'plenum',
    airGS: 9,
    rpm: 2000,
    speedFrom: 'scan',
    coolantC: 90,
    extraction: true,
    fireCover: true,
    lampFlashing: false,
    heldRunning: true,
    boostKpa: 0,
    feedRunning: false,
  }
  const planned = planFeed({ ...feed, vehicle: visitOf({}, spec).vehicle.spec })
  if (!planned.ok) throw new Error(planned.refusals[0].message)
  const start = Date.parse(at(minutes))
  const events: RunEvent[] = [{ kind: 'begin', atMs: start }]
  let ms = start
  for (;;) {
    const s = feedRunState(planned.plan, feed, events, ms)
    if (s.phase === 'done' || (s.phase !== 'shot' && s.shots.length >= shots)) break
    ms = s.dueMs!
    events.push({ kind: s.phase === 'shot' ? 'shut' : 'open', atMs: ms })
  }
  if (Number.isFinite(shots)) events.push({ kind: 'stop', atMs: ms + 500 })
  return {
    ...meta('v:run:fed', minutes),
    visitId: 'v',
    procedure: 'feed',
    attempt: 1,
    preconditions: ['stop-liquid', 'stop-fire', 'stop-gas'],
    events,
    afterRound: 0,
    feed,
  }
}

/** One answer of a test. @param afterWork - pieces of work that stood when it was made; undefined as older records have it */
export const tried = (
  test: string,
  station: FindingRecord['station'],
  outcome: FindingRecord['outcome'],
  afterWork: number | undefined,
  more: Partial<FindingRecord> = {},
): FindingRecord => ({
  ...meta(`v:${test}:${station}:${afterWork ?? ''}`, 3 + 40 * (afterWork ?? 0)),
  visitId: 'v',
  test,
  station,
  outcome,
  ...(afterWork === undefined ? {} : { afterWork }),
  ...more,
})
