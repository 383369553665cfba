import { standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, type Vehicle } from '../engine/index.js'
import type { ChannelId, Recording } from '../signals/index.js'
import { normalFrom, seededRandom } from '../statistics/index.js'
import { DRIVES, type DriveName } from './drive.js'
import { restingState, step, type EngineState, type Rig } from './engine.js'
import { HEALTHY, type SimulatedFaults } from './faults.js'
import { characterOf } from './parameters.js'

/** Integration step [s]. */
const STEP_S = 0.001
/** How often a link answers with all channels [s]; jittered. */
const POLL_S = 0.4
/** Run before the recording starts, so that trims are learnt [s]. */
const WARM_S = 150

/** What to record. */
export interface SimulationRequest {
  readonly vehicle: Vehicle
  readonly faults?: SimulatedFaults
  readonly drive: DriveName
  /** Whole number; the same seed gives the same recording, bit for bit. */
  readonly seed: number
  readonly intakeC?: number
}

/**
 * A recording of the simulated engine, through sensors with lag, noise, J1979 resolution and poll rate.
 * Deterministic by seed. The warm-up before it is not recorded, so learnt trims are there as in a driven car.
 */
export function simulateRecording(q: SimulationRequest): Recording {
  const random = seededRandom(q.seed)
  const vehicle = q.vehicle
  const rig: Rig = {
    vehicle,
    character: characterOf(vehicle, random, q.seed),
    faults: q.faults ?? HEALTHY,
    surroundings: { ambientPa: standardPressurePa(vehicle.altitudeM), intakeC: q.intakeC ?? 18 + 6 * random() },
  }
  const noise = normalFrom(seededRandom(q.seed ^ 0x5f3759df))
  const state = restingState(vehicle, rig.character, rig.surroundings)
  const idle = { mode: 'idle', targetRpm: 0, targetKph: 0, accessoryNm: 0 } as const
  for (const [seconds, targetRpm] of [
    [0.4, 0],
    [0.3, 1800],
    [0.3, 0],
  ] as const)
    for (let t = 0; t < WARM_S * seconds; t += STEP_S)
      step(state, rig, targetRpm ? { ...idle, mode: 'speed', targetRpm } : idle, STEP_S)
  const rows: Partial<Record<ChannelId, number>>[] = []
  let t = 0
  let nextPoll = 0
  for (const s of DRIVES[q.drive]) {
    state.gear = s.gear
    if (s.gear > 0 && s.controls.mode === 'road' && state.kph < 5) state.rpm = Math.max(state.rpm, 1200)
    if (s.gear === 0) state.kph = 0
    for (let k = 0; k < s.seconds / STEP_S; k++) {
      step(state, rig, s.controls, STEP_S)
      t += STEP_S
      if (t >= nextPoll) {
        rows.push(read(state, rig, t, noise))
        nextPoll = t + POLL_S * (0.85 + 0.3 * random())
      }
    }
  }
  const ids = Object.keys(rows[0]) as ChannelId[]
  const columns = Object.fromEntries(ids.map((id) => [id, Float64Array.from(rows, (row) => row[id] ?? NaN)]))
  return { rows: rows.length, columns, warnings: [] }
}

const quantised = (x: number, stepSize: number): number => Math.round(x / stepSize) * stepSize

/** One answer of the controller: J1979 resolutions. */
function read(s: EngineState, rig: Rig, t: number, noise: () => number): Partial<Record<ChannelId, number>> {
  const { vehicle: v, character: c, surroundings: a } = rig
  const trim = (x: number): number => quantised(100 * x, 100 / 128)
  const perLitre = (s.airKgS * 1e3) / v.displacementL
  const cell = perLitre < 1.9 ? 0 : perLitre < 6 ? 1 : 2
  const row: Partial<Record<ChannelId, number>> = {
    time_s: quantised(t, 0.001),
    rpm: quantised(s.rpm + 2.5 * noise(), 0.25),
    speed_kph: Math.round(s.kph),
    load_pct: quantised(100 * Math.min(1, s.load * (1 + 0.004 * noise())), 100 / 255),
    ect_c: Math.round(91 + 0.3 * noise()),
    iat_c: Math.round(a.intakeC + 0.2 * noise()),
    baro_kpa: Math.round(a.ambientPa / 1000),
  }
  if (hasMap(v)) row.map_kpa = Math.round((s.manifoldPa + rig.faults.mapOffsetPa) / 1000 + 0.25 * noise())
  if (hasMaf(v)) row.maf_gs = quantised(Math.max(0, s.mafRead * 1e3 * (1 + 0.006 * noise())), 0.01)
  row.throttle_pct = quantised(c.throttleZeroPct + 100 * s.plate * (1 - c.throttleZeroPct / 100), 100 / 255)
  if (v.idleControl === 'idle-valve') row.idle_valve_pct = quantised(100 * s.valve, 100 / 255)
  row.stft1_pct = trim(s.stft[0])
  row.ltft1_pct = trim(s.ltft[0][cell])
  if (v.banks === 2) {
    row.stft2_pct = trim(s.stft[1])
    row.ltft2_pct = trim(s.ltft[1][cell])
  }
  row.lambda_cmd = s.closedLoop ? 1 : 0.88
  row.fuel_status = s.closedLoop ? 1 : 0
  row.battery_v = 14.1 + 0.04 * noise()
  return row
}
