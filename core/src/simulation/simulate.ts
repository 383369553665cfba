import type { Vehicle } from '../engine/index.js'
import type { ChannelId, Recording } from '../signals/index.js'
import { normalFrom, seededRandom } from '../statistics/index.js'
import { AT_IDLE, DRIVES, stretch, type DriveName, type Stretch } from './drive.js'
import { SimulatedEngine, type EngineSetup } from './engine.js'
import { HEALTHY, type SimulatedFaults } from './faults.js'
import { readChannels, type Reading } from './sensors.js'

/** How often a link answers with all channels [s]; jittered. */
const POLL_S = 0.4
/** Noise of a pressure transducer on the manifold, pulses averaged [kPa]. */
const GAUGE_NOISE_KPA = 0.15
/** Learning is this much faster while an engine is settled in: days on the road in a minute. */
const SETTLE_HURRY = 20
const SETTLE: readonly Stretch[] = [
  stretch(60, 'idle'),
  stretch(22, 'speed', { targetRpm: 1500 }),
  stretch(22, 'speed', { targetRpm: 2500 }),
  stretch(36, 'idle'),
]
/** Cells of light, middle and more road load are learnt too, when the drive goes there. */
const SETTLE_ROAD: readonly Stretch[] = [
  stretch(10, 'road', { targetKph: 50, gear: 4 }),
  stretch(20, 'road', { targetKph: 80, gear: 5 }),
  stretch(10, 'road', { targetKph: 95, gear: 4 }),
  stretch(20, 'idle'),
]

/** What to record. */
export interface SimulationRequest {
  readonly vehicle: Vehicle
  readonly faults?: SimulatedFaults
  readonly drive: DriveName | readonly Stretch[]
  /** Whole number; the same seed gives the same recording, bit for bit. */
  readonly seed: number
  readonly ambientC?: number
  /** See EngineSetup. */
  readonly vary?: EngineSetup['vary']
  /** Mean time between two rows [s]; 0.4 when left out. */
  readonly pollS?: number
  /** The same engine read on another day: other noise; 0 when left out. */
  readonly day?: number
  /** Whether the plate was wiped after its idle had been learnt to the deposits. */
  readonly wiped?: boolean
  /** Whether a gauge on the manifold is recorded beside the controller's channels. */
  readonly gauge?: boolean
}

/** What is taken home from a car: a recording, and the codes that stood when it was read. */
export interface CarRead {
  readonly recording: Recording
  readonly codes: readonly { readonly code: string; readonly state: 'pending' | 'stored' }[]
}

/** Puts an engine under a stretch's controls; pulling away needs a clutch. */
export function take(e: SimulatedEngine, s: Stretch): void {
  if (s.controls.gear > 0 && s.controls.mode === 'road' && e.kph < 5)
    e.air.omega = Math.max(e.air.omega, (1200 * Math.PI) / 30)
  e.controls = s.controls
}

/**
 * An engine as it comes into the shop: driven for days, so that trims and idle position are learnt, faults and all. One
 * without idle control has its stop where it idled when it was sound.
 */
export function drivenEngine(setup: EngineSetup, road = false): SimulatedEngine {
  const e = new SimulatedEngine(setup)
  if (e.vehicle.idleControl === 'none') e.setStop(soundStop(setup))
  e.hurry = SETTLE_HURRY
  for (const s of road ? [...SETTLE, ...SETTLE_ROAD] : SETTLE) {
    take(e, s)
    e.advance(s.seconds)
    if (!e.running) restart(e)
    if (s === SETTLE[0]) e.monitors.forget()
  }
  e.monitors.age()
  e.hurry = 1
  return e
}

/** Starts a stopped engine. */
export function restart(e: SimulatedEngine): boolean {
  e.controls = { ...AT_IDLE, mode: 'crank' }
  e.advance(1.6)
  e.controls = AT_IDLE
  e.advance(3)
  return e.running
}

function soundStop(setup: EngineSetup): number {
  const sound = new SimulatedEngine({ ...setup, faults: HEALTHY })
  sound.hurry = SETTLE_HURRY
  sound.advance(60)
  return sound.plate
}

/**
 * A recording of the simulated engine, through sensors with lag, noise, J1979 resolution and poll rate.
 * Deterministic by seed. The settling before it is not recorded, so learnt trims are there as in a driven car.
 */
export const simulateRecording = (q: SimulationRequest): Recording => readCar(q).recording

/** The same with the codes of the controller, as they stand at the end: those of the days before are stored. */
export function readCar(q: SimulationRequest): CarRead {
  const drive = typeof q.drive === 'string' ? DRIVES[q.drive] : q.drive
  const onRoad = drive.some((s) => s.controls.gear > 0)
  const e = drivenEngine(
    {
      vehicle: q.vehicle,
      faults: q.faults,
      seed: q.seed,
      vary: q.vary,
      surroundings: q.ambientC === undefined ? {} : { ambientC: q.ambientC },
    },
    onRoad,
  )
  if (q.wiped) e.service.wipePlate(1, e.faults.deposits)
  const link = q.seed ^ Math.imul(q.day ?? 0, 0x9e3779b9)
  const random = seededRandom(link ^ 0x2545f491)
  const noise = normalFrom(seededRandom(link ^ 0x5f3759df))
  const poll = q.pollS ?? POLL_S
  const rows: Reading[] = []
  const began = e.timeS
  let next = began
  for (const s of drive) {
    take(e, s)
    e.advance(s.seconds, () => {
      if (e.timeS < next) return
      const row = readChannels(e, noise)
      if (q.gauge)
        row.gauge_vacuum_kpa = (e.surroundings.ambientPa - e.air.manifoldPa) / 1000 + GAUGE_NOISE_KPA * noise()
      rows.push({ ...row, time_s: Math.round((e.timeS - began) * 1000) / 1000 })
      next = e.timeS + poll * (0.85 + 0.3 * random())
    })
  }
  const ids = Object.keys(rows[0]) as ChannelId[]
  const columns = Object.fromEntries(ids.map((id) => [id, Float64Array.from(rows, (row) => row[id] ?? NaN)]))
  const { confirmed, pending } = e.monitors
  return {
    recording: { rows: rows.length, columns, warnings: [] },
    codes: [
      ...[...confirmed].map((code) => ({ code, state: 'stored' as const })),
      ...[...pending].filter((c) => !confirmed.has(c)).map((code) => ({ code, state: 'pending' as const })),
    ],
  }
}
