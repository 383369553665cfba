import { AIR_GAMMA, AIR_GAS_CONSTANT, CRITICAL_RATIO, ZERO_CELSIUS_K, airDensity, flowFunction } from '../air/index.js'
import { hasMaf, REST_ANGLE_RAD, throttleAreaMm2, type Vehicle } from '../engine/index.js'
import type { SimulatedFaults } from './faults.js'
import type { EngineCharacter } from './parameters.js'

/** Stoichiometric air per fuel of gasoline [–], and its heating value [J/kg]. Source: Heywood, app. D. */
const AFR = 14.6
const HEATING_J_KG = 43.5e6
/** Above this ratio the flow function is replaced by a straight line: its slope is infinite at 1 and an explicit step would ring. */
const LINEAR_RATIO = 0.985
const LINEAR_VALUE = flowFunction(LINEAR_RATIO)
/** Trim cells by airflow against idle: idle, part load, more. */
const CELLS = 3
const TRIM_LIMIT = 0.25
const STFT_LIMIT = 0.2

/** What drives the engine at a moment. */
export interface Controls {
  readonly mode: 'idle' | 'speed' | 'road' | 'wide' | 'coast'
  readonly targetRpm: number
  readonly targetKph: number
  readonly accessoryNm: number
}

export interface Surroundings {
  readonly ambientPa: number
  readonly intakeC: number
}

/** State of one simulated engine; advanced by `step`. */
export interface EngineState {
  manifoldPa: number
  rpm: number
  plate: number
  valve: number
  /** Integral part of the idle control, and of the foot on the pedal [share of opening]. */
  governor: number
  pedal: number
  kph: number
  gear: number
  stft: [number, number]
  ltft: [number[], number[]]
  lambda: [number, number]
  /** Sensor's late view of the mixture. */
  lambdaSeen: [number, number]
  mafRead: number
  closedLoop: boolean
  airKgS: number
  plateKgS: number
  load: number
}

/** An engine at rest, about to idle. */
export function restingState(v: Vehicle, c: EngineCharacter, s: Surroundings): EngineState {
  return {
    manifoldPa: 0.35 * s.ambientPa,
    rpm: c.idleTargetRpm,
    plate: 0.05,
    valve: v.idleControl === 'idle-valve' ? 0.3 : 0,
    governor: v.idleControl === 'idle-valve' ? 0.5 : 0.05,
    pedal: 0.03,
    kph: 0,
    gear: 0,
    stft: [0, 0],
    ltft: [new Array<number>(CELLS).fill(0), new Array<number>(CELLS).fill(0)],
    lambda: [1, 1],
    lambdaSeen: [1, 1],
    mafRead: 1e-3 * v.displacementL,
    closedLoop: true,
    airKgS: 1e-3 * v.displacementL,
    plateKgS: 0,
    load: 0.2,
  }
}

/** Flow function with a straight end near equal pressures. */
function psi(r: number): number {
  if (r <= CRITICAL_RATIO) return flowFunction(CRITICAL_RATIO)
  if (r < LINEAR_RATIO) {
    const g = AIR_GAMMA
    return Math.sqrt(((2 * g) / (g - 1)) * (r ** (2 / g) - r ** ((g + 1) / g)))
  }
  return (LINEAR_VALUE * (1 - r)) / (1 - LINEAR_RATIO)
}

/** Open area of plate and closed leakage with deposits [m²]; deposits shade a lip that a wide plate clears. */
export function plateAreaM2(v: Vehicle, c: EngineCharacter, opening: number, deposits: number): number {
  const angle = REST_ANGLE_RAD + opening * (Math.PI / 2 - REST_ANGLE_RAD)
  const geometric = v.throttleBodies * c.throttleCd * throttleAreaMm2(v.throttleBoreMm, Math.min(Math.PI / 2, angle))
  const lip = deposits * 0.5 * Math.min(geometric, 0.011 * v.throttleBoreMm ** 2)
  return (Math.max(0, geometric - lip) + c.closedLeakMm2 * (1 - deposits)) * 1e-6
}

/** Breathing of this engine: a peak over speed, residual gas by compression, overlap by time. */
function volumetric(c: EngineCharacter, compression: number, rpm: number, pm: number, pe: number): number {
  const tuned = c.breathingPeak * (1 - 0.16 * ((rpm - c.peakRpm) / c.peakRpm) ** 2)
  const residual = (compression - (pe / pm) ** (1 / AIR_GAMMA)) / (compression - 1)
  const heat = 1 - 0.09 * Math.log(Math.max(1, pe / pm))
  return Math.max(0.1, tuned * residual * heat)
}

/** Everything fixed while an engine runs. */
export interface Rig {
  readonly vehicle: Vehicle
  readonly character: EngineCharacter
  readonly faults: SimulatedFaults
  readonly surroundings: Surroundings
}

/**
 * Advances the mean-value model by one step (≤ 1 ms). Manifold filling: Heywood, eq. 14.21; torque balance
 * and controller in the manner of Hendricks and Sorenson, SAE 900616.
 */
export function step(state: EngineState, rig: Rig, u: Controls, dt: number): void {
  const { vehicle: v, character: c, faults: f, surroundings: s } = rig
  const T0 = s.intakeC + ZERO_CELSIUS_K
  const Tm = T0 + 14 - 6 * Math.min(1, state.load)
  const r = state.manifoldPa / s.ambientPa
  const flux = (s.ambientPa / Math.sqrt(AIR_GAS_CONSTANT * T0)) * psi(r)
  const area = plateAreaM2(v, c, state.plate, f.deposits) + state.valve * c.idleValveMm2 * 1e-6 * (1 - 0.6 * f.deposits)
  const plate = area * flux
  const leak = f.leakMm2 * 1e-6 * flux
  const egr = f.egrMm2 * 1e-6 * 0.62 * flux
  const duct = ductLeak(f.ductLeakMm2, plate, s, v)
  const omega = (state.rpm * Math.PI) / 30
  const back = c.overlap * Math.max(0, s.ambientPa - state.manifoldPa) * 0.35
  const swallow = Math.max(
    0,
    (volumetric(c, v.compressionRatio, state.rpm, state.manifoldPa, s.ambientPa) *
      c.vdM3 *
      state.manifoldPa *
      state.rpm) /
      (120 * AIR_GAS_CONSTANT * Tm) -
      back,
  )
  // exhaust gas takes its share of what leaves the manifold
  const fresh = swallow * ((plate + leak) / Math.max(1e-9, plate + leak + egr))
  state.manifoldPa = Math.max(
    3000,
    state.manifoldPa + ((AIR_GAS_CONSTANT * Tm) / c.manifoldM3) * (plate + leak + egr - swallow) * dt,
  )
  state.airKgS = fresh
  state.plateKgS = plate
  const metered = Math.max(1e-6, plate - duct)
  const full = 0.028 * v.displacementL
  const share = 1 - Math.exp(-Math.max(0, metered - 1.1e-3 * v.displacementL) / (0.18 * full))
  const seen = metered * c.mafScale * (1 + f.mafErrorIdle + (f.mafErrorFull - f.mafErrorIdle) * share)
  state.mafRead += (seen - state.mafRead) * Math.min(1, dt / 0.02)
  fuelAndTrims(state, rig, fresh, leak, u, dt)
  motion(state, rig, u, omega, dt)
  govern(state, rig, u, dt)
  state.load = Math.min(
    1,
    state.airKgS / Math.max(1e-6, (c.breathingPeak * c.vdM3 * s.ambientPa * state.rpm) / (120 * AIR_GAS_CONSTANT * T0)),
  )
}

/** Air through a split after the sensor: driven by the duct's own depression, which follows flow squared. */
function ductLeak(areaMm2: number, flowKgS: number, s: Surroundings, v: Vehicle): number {
  if (areaMm2 === 0) return 0
  const rho = airDensity(s.ambientPa, s.intakeC + ZERO_CELSIUS_K)
  const ductM2 = 0.55 * Math.PI * (0.5e-3 * v.throttleBoreMm) ** 2
  const depression = (flowKgS / ductM2) ** 2 / (2 * rho)
  return Math.min(0.8 * flowKgS, areaMm2 * 1e-6 * Math.sqrt(2 * rho * depression))
}

const cellOf = (air: number, v: Vehicle): number => {
  const perLitre = (air * 1e3) / v.displacementL
  return perLitre < 1.9 ? 0 : perLitre < 6 ? 1 : 2
}

function fuelAndTrims(state: EngineState, rig: Rig, fresh: number, leak: number, u: Controls, dt: number): void {
  const { vehicle: v, character: c, faults: f } = rig
  const cut = u.mode === 'coast' && state.rpm > 1300
  state.closedLoop = !cut && u.mode !== 'wide'
  const cell = cellOf(state.airKgS, v)
  const full = 0.028 * v.displacementL
  const byMap = !hasMaf(v)
  // speed-density: the controller's own breathing map, right for this engine, read at the reported pressure
  const believed = byMap ? fresh * (1 + (1.4 * f.mapOffsetPa) / state.manifoldPa) : state.mafRead
  const delivered =
    c.fuelScale * (1 + f.fuelErrorIdle + (f.fuelErrorFull - f.fuelErrorIdle) * Math.min(1, fresh / full))
  for (let b = 0; b < Math.max(1, v.banks); b++) {
    const half = 1 / Math.max(1, v.banks)
    const skew = f.leakBank === 0 ? 0 : f.leakBank === b + 1 ? 0.9 : -0.9
    const air = (fresh - leak) * half + leak * half * (1 + skew)
    const command = u.mode === 'wide' ? 0.88 : 1
    const fuel = cut
      ? 0
      : ((believed * half) / (AFR * command)) * (1 + state.stft[b]) * (1 + state.ltft[b][cell]) * delivered
    state.lambda[b] = fuel > 0 ? air / (AFR * fuel) : 3
    state.lambdaSeen[b] += (state.lambda[b] - state.lambdaSeen[b]) * Math.min(1, dt / 0.18)
    if (!state.closedLoop) continue
    const lean = state.lambdaSeen[b] > 1 ? 1 : -1
    const ramp = 0.035 + 1.6 * Math.min(0.2, Math.abs(state.lambdaSeen[b] - 1))
    state.stft[b] = clamp(state.stft[b] + lean * ramp * dt, STFT_LIMIT)
    state.ltft[b][cell] = clamp(state.ltft[b][cell] + 0.11 * state.stft[b] * dt, TRIM_LIMIT)
  }
}

const clamp = (x: number, limit: number): number => Math.min(limit, Math.max(-limit, x))

/** Overall ratio by gear [–] and wheel radius [m]; made up, ordinary. */
const RATIOS = [0, 14.2, 8.1, 5.4, 4.0, 3.2] as const
const WHEEL_M = 0.31

function motion(state: EngineState, rig: Rig, u: Controls, omega: number, dt: number): void {
  const { character: c } = rig
  const lambda = (state.lambda[0] + state.lambda[1] * (rig.vehicle.banks > 1 ? 1 : 0)) / Math.max(1, rig.vehicle.banks)
  const burn = lambda > 1.5 ? 0 : 1 - 0.9 * (Math.max(0.75, Math.min(1.4, lambda)) - 0.95) ** 2
  const heat = (state.airKgS / (AFR * Math.max(1, lambda))) * HEATING_J_KG * c.indicatedEfficiency * burn
  const indicated = omega > 10 ? heat / omega : 0
  const mean = (pa: number): number => (pa * c.vdM3) / (4 * Math.PI)
  const friction = mean(c.frictionPa + c.frictionPerSpeedPa * (state.rpm / 1000) ** 2)
  const pumping = mean(Math.max(0, rig.surroundings.ambientPa * 1.03 - state.manifoldPa))
  // spark reserve catches idle speed faster than air can
  const spark = u.mode === 'idle' ? clamp((c.idleTargetRpm - state.rpm) * 0.004, 0.12) * indicated : 0
  let net = indicated + spark - friction - pumping - u.accessoryNm
  let inertia = c.inertiaKgM2
  if (state.gear > 0) {
    const ratio = RATIOS[state.gear]
    const speed = state.kph / 3.6
    const resist = 0.011 * c.massKg * 9.81 + 0.42 * speed * speed
    net -= (resist * WHEEL_M) / ratio
    inertia += c.massKg * (WHEEL_M / ratio) ** 2
  }
  state.rpm = Math.max(150, ((omega + (net / inertia) * dt) * 30) / Math.PI)
  if (state.gear > 0) state.kph = ((state.rpm * Math.PI) / 30 / RATIOS[state.gear]) * WHEEL_M * 3.6
}

function govern(state: EngineState, rig: Rig, u: Controls, dt: number): void {
  const { vehicle: v, character: c } = rig
  const byValve = v.idleControl === 'idle-valve'
  const idleTarget = c.idleTargetRpm + (u.accessoryNm > 5 ? 45 : 0)
  const ease = (now: number, to: number, tau: number): number => now + (to - now) * Math.min(1, dt / tau)
  switch (u.mode) {
    case 'idle': {
      const error = (idleTarget - state.rpm) / 1000
      const gain = byValve ? 1 : 0.06
      // far above its target the controller nearly holds the learnt position: winding down on the way back would stall
      const rate = error < -0.6 ? 0 : error < -0.2 ? 0.1 : 0.9
      state.governor = Math.min(byValve ? 0.85 : 0.12, Math.max(0, state.governor + error * gain * rate * dt))
      const out = Math.max(0, state.governor + error * gain * 0.8)
      if (byValve) {
        state.valve = ease(state.valve, Math.min(0.85, out), 0.05)
        state.plate = ease(state.plate, 0, 0.08)
      } else state.plate = ease(state.plate, out, 0.05)
      break
    }
    case 'speed': {
      const error = (u.targetRpm - state.rpm) / 1000
      state.pedal = Math.min(0.5, Math.max(0, state.pedal + error * 0.04 * dt))
      state.plate = ease(state.plate, Math.max(0, state.pedal + error * 0.05), 0.06)
      break
    }
    case 'road': {
      const error = u.targetKph - state.kph
      state.pedal = Math.min(0.5, Math.max(0, state.pedal + error * 0.004 * dt))
      state.plate = ease(state.plate, Math.min(0.6, Math.max(0, state.pedal + error * 0.02)), 0.2)
      break
    }
    case 'wide':
      state.plate = ease(state.plate, 0.95, 0.12)
      break
    case 'coast':
      state.plate = ease(state.plate, byValve ? 0 : 0.004, 0.1)
      break
  }
}
