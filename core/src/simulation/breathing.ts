import { AIR_GAS_CONSTANT } from '../air/index.js'
import { trimBanksOf } from '../engine/index.js'
import type { EngineView } from './view.js'

/** Breathing coefficient at a speed, faults included; what the controller believes leaves them out. */
export function tuned(e: EngineView, rpm: number, believed: boolean): number {
  const { character: c, faults: f, vehicle: v } = e
  let t = c.breathingPeak * (1 - 0.26 * ((rpm - c.peakRpm) / c.peakRpm) ** 2)
  if (v.loadControl === 'late-closing') t *= e.load < 0.6 ? 0.78 : 0.78 + 0.22 * Math.min(1, (e.load - 0.6) / 0.3)
  if (believed) return Math.max(0.1, t)
  if (rpm > 3200) t *= 1 - f.flapStuck
  t *= 1 - 0.22 * f.valveDeposits * Math.min(1, e.flowShare)
  const half = (bank: 0 | 1 | 2): number => (trimBanksOf(v) === 2 && bank !== 0 ? 0.5 : 1)
  if (f.timingLateDeg > 0) t *= 1 - half(f.timingLateBank) * 0.011 * f.timingLateDeg * Math.max(-0.5, 1 - rpm / 3200)
  t *= 1 - (f.runnerLoss * Math.min(1, 0.25 + 0.9 * e.flowShare)) / v.cylinders
  t *= 1 - (0.15 * f.weakShare) / v.cylinders
  return Math.max(0.1, t)
}

/** Volume that the cylinders sweep in a radian of the crank, over the gas constant and temperature: × pressure = mass. */
export const swept = (e: EngineView, believed: boolean, manifoldK: number): number =>
  (tuned(e, e.rpm, believed) * e.character.vdM3) / (4 * Math.PI * AIR_GAS_CONSTANT * manifoldK)

/** Fresh air by bank in a period [kg]: unequal breathing, and a leak that one bank feels more of. */
export function byBank(e: EngineView): [number, number] {
  const { vehicle: v, character: c, faults: f } = e
  const a = e.air.account
  if (trimBanksOf(v) !== 2) return [a.fresh, 0]
  const half = v.cylinders / 2
  let imbalance = 0
  for (let k = 0; k < v.cylinders; k++) imbalance += (k < half ? 1 : -1) * (c.cylinderShare[k] - 1)
  imbalance /= v.cylinders
  const side = (cylinder: number): number => (cylinder <= half ? -1 : 1)
  if (f.runnerLoss > 0)
    imbalance += (side(f.runnerCylinder) * f.runnerLoss * Math.min(1, 0.25 + 0.9 * e.flowShare)) / v.cylinders
  if (f.backPressureBank !== 0)
    imbalance += (f.backPressureBank === 1 ? -1 : 1) * Math.min(0.25, bankBackPa(e) / 160_000)
  if (f.timingLateBank !== 0)
    imbalance += (f.timingLateBank === 1 ? -1 : 1) * 0.0055 * f.timingLateDeg * Math.max(-0.5, 1 - e.rpm / 3200)
  const bank = f.leakBank || (f.leakCylinder > 0 ? (f.leakCylinder <= half ? 1 : 2) : 0)
  const beta = bank === 0 ? 0 : (bank === 1 ? 1 : -1) * c.bankIsolation
  const leak = Math.min(a.fresh, Math.max(0, a.leak))
  const rest = a.fresh - leak
  return [0.5 * (rest * (1 + imbalance) + leak * (1 + beta)), 0.5 * (rest * (1 - imbalance) + leak * (1 - beta))]
}

/** Pressure that a blocked exhaust holds up [Pa]; `flowShare` is of what is metered. */
const bankBackPa = (e: EngineView): number => e.faults.backPressurePa * Math.min(1.5, e.flowShare ** 2 * 6 + 0.06)

/** Pressure in the exhaust [Pa]. */
export function exhaustPa(e: EngineView): number {
  const { character: c, faults: f, surroundings: s } = e
  const half = trimBanksOf(e.vehicle) === 2 && f.backPressureBank !== 0 ? 0.5 : 1
  return (
    s.ambientPa +
    9000 * e.flowShare ** 2 +
    // a turbine holds up more than its compressor gives
    (c.boostPa > 0 ? 1500 + 1.1 * Math.max(0, e.chargePa - s.ambientPa) : 0) +
    (f.backPressurePa > 0 ? half * bankBackPa(e) : 0)
  )
}
