import { standardPressurePa } from '../air/index.js'
import type { Vehicle } from '../engine/index.js'
import type { Evidence } from './evidence.js'
import type { MissingReading } from './missing.js'
import type { ObservationSet } from './observations.js'

/** What a diagnosis stands on. */
export interface Basis {
  /** Operating points that count, repeats taken together, and readings at them. */
  readonly points: number
  readonly readings: number
  /** Tests and looks with an outcome. */
  readonly tests: number
  /** Codes that stand; left out where nobody read them. */
  readonly codes?: number
  /** Records of this car when it was sound, and of sound cars of its model. */
  readonly sound: { readonly ownRecords: number; readonly carsLikeIt: number }
  readonly place: { readonly altitudeM: number; readonly barometerKpa: number }
  /** The one reading that would help most; left out where none would help much. */
  readonly missing?: MissingReading
}

/** What is counted for and against, before any of it is weighed. */
export function basisOf(set: ObservationSet, e: Evidence, v: Vehicle, missing: MissingReading | undefined): Basis {
  const count = (of: string): number => e.sound?.filter((s) => s.of === of).length ?? 0
  return {
    points: set.points.length,
    readings: set.observations.length,
    tests: e.findings.filter((f) => f.outcome !== 'unclear').length,
    ...(e.codes ? { codes: e.codes.length } : {}),
    sound: { ownRecords: count('same-car'), carsLikeIt: count('same-model') },
    place: { altitudeM: v.altitudeM, barometerKpa: standardPressurePa(v.altitudeM) / 1000 },
    ...(missing ? { missing } : {}),
  }
}

const counted = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`

/** The same in words. */
export function basisSentence(b: Basis): string {
  const codes =
    b.codes === undefined ? 'codes not read' : b.codes ? counted(b.codes, 'code') : 'codes read, none stands'
  const { ownRecords, carsLikeIt } = b.sound
  const sound = [
    ...(ownRecords ? ['this car’s own record when it was sound'] : []),
    ...(carsLikeIt ? [counted(carsLikeIt, 'sound car like it', 'sound cars like it')] : []),
  ]
  return `From ${[
    `${counted(b.readings, 'reading')} at ${counted(b.points, 'point')}`,
    b.tests ? counted(b.tests, 'test or look', 'tests and looks') : 'no test',
    codes,
    ...sound,
  ].join(', ')}; air of ${b.place.barometerKpa.toFixed(1)} kPa.`
}
