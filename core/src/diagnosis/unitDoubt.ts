import { hasMap, hasSteadyVacuum, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { QUANTITIES, type Unit } from '../units/index.js'
import { basicsOf } from './basics.js'

/** A figure that is less than this share of what belongs, and that share of it in another unit, may have been read in that [–]. */
const FAR = 0.6
/** Vacuum of sound engines at idle is nearly one figure; their pressure is not. */
const RIGHT = { gauge: 0.14, map: 0.3 } as const

/** Unit in which a pressure would be what a sound engine has; undefined where none is. @param read - as it was entered, in kPa */
const pressureUnitOf = (read: number, belongsPa: number, right: number): Unit | undefined =>
  QUANTITIES.pressure.units.slice(1).find((u) => Math.abs((1000 * read * u.factor) / belongsPa - 1) < right)

/** The same of a manifold pressure. */
export const manifoldUnitOf = (p: OperatingPoint, v: Vehicle): Unit | undefined =>
  pressureUnitOf(p.means.map_kpa ?? 0, basicsOf(p, v).soundPa, RIGHT.map)

/**
 * Said of a pressure that was typed and would be what a sound engine draws in another unit than the one that it was entered in;
 * undefined where none would. It may be right all the same: it is said, and nothing is left aside.
 */
export function unitDoubt(points: readonly OperatingPoint[], v: Vehicle): string | undefined {
  for (const p of points) {
    if (p.n > 1 || p.rpm <= 0 || (p.kind !== 'idle' && p.kind !== 'hold')) continue
    const { ambientPa, soundPa } = basicsOf(p, v)
    for (const [name, read, belongs, right] of [
      ['The gauge', hasSteadyVacuum(v) ? p.means.gauge_vacuum_kpa : undefined, ambientPa - soundPa, RIGHT.gauge],
      ['The manifold pressure', hasMap(v) ? p.means.map_kpa : undefined, soundPa, RIGHT.map],
    ] as const) {
      if (read === undefined || !(read > 0) || 1000 * read > FAR * belongs) continue
      const unit = pressureUnitOf(read, belongs, right)
      if (unit)
        return `${name} was entered as ${read.toFixed(1)} kPa at ${p.rpm.toFixed(0)} rpm; ${read.toFixed(1)} ${unit.symbol} would be what a sound engine draws. Check its unit before anything is done.`
    }
  }
  return undefined
}
