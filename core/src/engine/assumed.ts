import { CONFIRMED_FIELDS, type ConfirmedField, type Vehicle } from './vehicle.js'

/** Highest compression that an engine of its kind is built with [–]; ours, generous: a high one leaves little room for liquid. */
function highestCompression(v: Vehicle): number {
  if (v.fuel === 'diesel') return 22
  if (v.injection === 'carburettor') return 11.5
  if (v.induction === 'turbo') return 11.5
  return v.injection === 'direct' ? 14 : 13
}

/** How far a displacement may be guessed too large [–]. */
const DISPLACEMENT_SLACK = 0.8
/** Cylinders that may have been overlooked: the next usual engine. */
const nextCylinders = (n: number): number => (n < 6 ? n + 1 : n + 2)

/** What a bound stands on, and which of it nobody has confirmed. */
export interface Standing {
  readonly vehicle: Pick<Vehicle, 'displacementL' | 'cylinders' | 'compressionRatio'>
  readonly guessed: readonly ConfirmedField[]
}

/**
 * The figures that a liquid bound takes: as confirmed, and the worst that they could be where nobody has confirmed them.
 */
export function worstOf(v: Vehicle): Standing {
  const guessed = CONFIRMED_FIELDS.filter((f) => !v.confirmed?.includes(f))
  const is = (f: ConfirmedField): boolean => guessed.includes(f)
  return {
    vehicle: {
      displacementL: is('displacementL') ? v.displacementL * DISPLACEMENT_SLACK : v.displacementL,
      cylinders: is('cylinders') ? nextCylinders(v.cylinders) : v.cylinders,
      compressionRatio: is('compressionRatio')
        ? Math.max(v.compressionRatio, highestCompression(v))
        : v.compressionRatio,
    },
    guessed,
  }
}
