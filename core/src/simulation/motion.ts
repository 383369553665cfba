import type { EngineCharacter } from './character.js'
import type { Controls } from './drive.js'

/** Overall ratio by gear [–] and wheel radius [m]; made up, ordinary. */
const RATIOS = [0, 14.2, 8.1, 5.4, 4.0, 3.2] as const
const WHEEL_M = 0.31
/** Speed and torque of a starter at the crank. */
const CRANK_RPM = 210
const STARTER_NM = 90

/** Speeds from which the generator gives anything, and all of its power [rpm]. */
const GENERATOR_RPM = { from: 300, full: 620 } as const
const accessoryNm = (c: EngineCharacter, rpm: number): number => {
  const share = Math.min(1, Math.max(0, (rpm - GENERATOR_RPM.from) / (GENERATOR_RPM.full - GENERATOR_RPM.from)))
  return (share * c.accessoryW) / ((Math.max(GENERATOR_RPM.full, rpm) * Math.PI) / 30)
}

/** Everything that turns against the burning [N·m], by speed and pressures. */
export function dragNm(c: EngineCharacter, rpm: number, manifoldPa: number, exhaustPa: number): number {
  const mean = (pa: number): number => (pa * c.vdM3) / (4 * Math.PI)
  return (
    mean(c.frictionPa + c.frictionPerSpeedPa * (rpm / 1000) ** 2) +
    mean(Math.max(0, 1.03 * exhaustPa - manifoldPa)) +
    accessoryNm(c, rpm)
  )
}

/** Load of the road at the crank in a gear [N·m]. */
export function roadLoadNm(c: EngineCharacter, u: Controls, kph: number): number {
  const speed = kph / 3.6
  const resist = c.massKg * 9.81 * (0.011 + u.gradePct / 100) + 0.42 * speed * speed
  return (resist * WHEEL_M) / RATIOS[u.gear]
}

/** Inertia at the crank, the car's with it when a gear is in [kg·m²]. */
export const crankInertia = (c: EngineCharacter, gear: number): number =>
  gear === 0 ? c.inertiaKgM2 : c.inertiaKgM2 + c.massKg * (WHEEL_M / RATIOS[gear]) ** 2

/** Road speed of an engine speed in a gear [km/h]. */
export const roadKph = (rpm: number, gear: number): number =>
  gear === 0 ? 0 : ((rpm * Math.PI) / 30 / RATIOS[gear]) * WHEEL_M * 3.6

/** Torque of the starter at a speed [N·m]. */
export const starterNm = (rpm: number): number => Math.max(0, STARTER_NM * (1 - rpm / CRANK_RPM))
