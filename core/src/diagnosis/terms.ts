import { VE_EXPONENT, VE_SCATTER } from '../expectation/index.js'
import { hasMaf, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import type { Basics } from './basics.js'
import type { Effect } from './effect.js'
import {
  CLOSED_LEAK_SHARE,
  LOADED,
  NO_LATE_BURN_RPM,
  noLoadGsPerLKrpm,
  overlapSd,
  SCATTER,
  type Nuisance,
} from './scatter.js'

/** How much more air an engine needs by how lean it runs, d ln ṁ / d ln λ: hardly more than keeps its fuel; ours. */
export const NEED_PER_LEAN = 1.2

/** 1/(1+ε)·(1+duct) + L/ṁ_ind: true air per air reported; the bracket of the trim equation. */
export function airRatio(e: Effect, indicatedKgS: number, bank?: 1 | 2): number {
  const skew = bank === undefined ? 0 : bank === 1 ? e.bankSkew : -e.bankSkew
  return meteredRatio(e) + ((1 + skew) * e.leakKgS) / indicatedKgS
}

/** Air that passed the sensor over what the sensor told, and what a duct adds or a boost pipe loses before the plate [–]. */
export const meteredRatio = (e: Effect): number => ((1 + e.ductShare) * (1 - e.lostAirShare)) / (1 + e.mafError)

/** log of true over read manifold pressure to the power that air follows it with. */
export function pressureTerm(e: Effect, manifoldPa: number): number {
  const truePa = Math.max(0.2 * manifoldPa, manifoldPa - e.mapOffsetPa)
  return (1 + VE_EXPONENT) * Math.log(truePa / manifoldPa)
}

/** log of the share of the swallow that is fresh air and not exhaust gas. */
export const inertTerm = (e: Effect, swallowKgS: number): number => Math.log(1 - Math.min(0.6, e.inertKgS / swallowKgS))

/** log of what comes in over what is needed, where the control has closed as far as it goes. @param past - what still passes there, of the need of a sound engine [–] */
const surplus = (e: Effect, soundKgS: number, need: number, past = CLOSED_LEAK_SHARE): number =>
  Math.log(Math.max(1, (past + (e.leakKgS + e.spareKgS) / soundKgS) * Math.exp(-need)))

/** Whether air comes in that the sensor which meters it does not see. */
export const isUnmetered = (e: Effect, v: Vehicle): boolean => hasMaf(v) && e.leakKgS > 0

/**
 * log of the air that an idling engine gets over what it needs at its speed, where the control has closed as far as it goes; 0 while
 * it is master of the air. Late spark burns it.
 *
 * @param need - what it needs more than a sound engine [log]
 * @param rest - what is read beyond all else and beyond what this engine takes where it is held [log]: how much passes the closed plate or valve is the car's own, and the nearest is taken
 */
export function surplusAir(e: Effect, p: OperatingPoint, k: Basics, need: number, rest: number): number {
  if (p.kind !== 'idle' || (e.leakKgS === 0 && e.spareKgS === 0)) return 0
  const sound = k.soundKgS * Math.exp(k.held.air)
  const [least, most] = [1 - SCATTER.plateLeak, 1 + SCATTER.plateLeak].map((x) =>
    surplus(e, sound, need, x * CLOSED_LEAK_SHARE),
  )
  return Math.min(most, Math.max(least, rest))
}

/**
 * The same over what the top of its band needs, of which speed takes a part: an engine that is fuelled for all of it runs up until it uses it.
 *
 * @param share - what passes its closed plate or valve over what passes a middle one [–]
 */
export function surplusOverBand(
  e: Effect,
  p: OperatingPoint,
  v: Vehicle,
  k: Basics,
  { need, share }: { readonly need: number; readonly share: number },
): number {
  if (isUnmetered(e, v) && p.kind !== 'idle') return 0
  const rpm = v.idleSpecRpm.max
  const needKgS = 1e-6 * v.displacementL * rpm * noLoadGsPerLKrpm(rpm, v.displacementL) * Math.exp(k.held.air)
  return surplus(e, needKgS * (p.kind === 'idle-load' ? LOADED['idle-load'] : 1), need, share * CLOSED_LEAK_SHARE)
}

/** How far an engine runs up from a speed to use so much more air, where nothing holds it down [log]: above idle none is burnt late. */
export function runsUpBy(surplusLog: number, fromRpm: number, displacementL: number): number {
  const perRpm = (rpm: number): number => noLoadGsPerLKrpm(rpm, displacementL)
  const to = (rpm: number): number => surplusLog + Math.log(perRpm(fromRpm) / perRpm(rpm))
  const reached = fromRpm * Math.exp(to(NO_LATE_BURN_RPM))
  return reached < NO_LATE_BURN_RPM ? surplusLog : to(reached)
}

/** Nuisances of the work that an engine does at a point, unloaded or with a load that nobody knows. */
export function workNuisances(p: OperatingPoint, i: number, v: Vehicle): Partial<Record<Nuisance, number>> {
  const idles = p.rpm < 1100 && p.kind !== 'cruise'
  return {
    'no-load': SCATTER.noLoad,
    consumers: SCATTER.consumers / v.displacementL,
    'no-load-speed': SCATTER.noLoadPerLogSpeed * Math.log(p.rpm / 1500),
    ...(idles ? { 'idle-extra': SCATTER.idleExtra } : {}),
    // of an idle it is asked what is on; a held speed is typed while fan and compressor do as they like
    ...(p.kind === 'hold' && p.n === 1 ? { [`load@${i}`]: SCATTER.consumersTyped / v.displacementL } : {}),
    ...(p.kind === 'cruise' ? { [`load@${i}`]: SCATTER.someLoad } : {}),
    ...(p.kind === 'idle-load' ? { [`load@${i}`]: SCATTER.idleLoad } : {}),
    ...(p.kind === 'cold' ? { [`load@${i}`]: SCATTER.cold + SCATTER.someLoad * (p.rpm > 1500 ? 1 : 0) } : {}),
  }
}

/** Nuisances of volumetric efficiency at a point. */
export const veNuisances = (p: OperatingPoint, k: Basics): Partial<Record<Nuisance, number>> => ({
  ve: VE_SCATTER.level,
  've-overlap': overlapSd(p.rpm),
  've-speed': VE_SCATTER.perLogSpeed * Math.log(p.rpm / 1500),
  've-residual': (SCATTER.residualGas * k.ambientPa) / k.manifoldPa,
  've-pressure': VE_SCATTER.perLogPressure * Math.log(k.manifoldPa / (0.35 * k.ambientPa)),
})

export const scaled = (xs: Partial<Record<Nuisance, number>>, by: number): Partial<Record<Nuisance, number>> =>
  Object.fromEntries(Object.entries(xs).map(([k, x]) => [k, (x ?? 0) * by]))
