import { standardPressurePa } from '../air/index.js'
import { hasSteadyVacuum } from '../engine/index.js'
import { bandOf, standing, type BandPlace } from '../expectation/index.js'
import { requireRange } from '../statistics/index.js'

/** A gauge's figure as what it shows, and as what the engine feels. */
export interface GaugeSeen {
  /** What is missing to ambient [kPa]. */
  readonly showsKpa: number
  /** Absolute pressure in the manifold [kPa]. */
  readonly feelsKpa: number
  /** What the same manifold would show at sea level [kPa]. */
  readonly atSeaLevelKpa: number
  readonly verdict: 'inside' | 'low' | 'high' | 'unknown'
  /** Verdict in a sentence, with the band of this engine at this place. */
  readonly say: string
}

/** A gauge at sea level is often said to be low below this [kPa]; 17 inHg. */
export const SEA_LEVEL_RULE_KPA = 57.5

/** Why a gauge's figure cannot be: more is missing than the air here presses with. Undefined where it can. */
export function gaugeProblem(kpa: number, altitudeM: number): string | undefined {
  const ambient = standardPressurePa(altitudeM) / 1000
  return kpa >= 0 && kpa <= ambient
    ? undefined
    : `${kpa.toFixed(1)} kPa cannot be missing where the air presses with ${ambient.toFixed(1)}: is it what is left, or another unit, or another place?`
}

/**
 * Reads a gauge with the technician: absolute pressure = ambient − gauge; the band is that of this engine at this height.
 * @param kpa - gauge vacuum, 0 to ambient
 * @throws RangeError when the gauge shows more than there is to miss
 */
export function gaugeSeen(kpa: number, place: BandPlace): GaugeSeen {
  const ambient = standardPressurePa(place.vehicle.altitudeM) / 1000
  requireRange('gauge vacuum', kpa, kpa >= 0 && kpa <= ambient, `0 to ${ambient.toFixed(1)} kPa here`)
  const band = bandOf('gauge_vacuum_kpa', place)
  const verdict = standing(kpa, band)
  const feelsKpa = ambient - kpa
  const atSeaLevelKpa = standardPressurePa(0) / 1000 - feelsKpa
  const range = band ? `${band.low.toFixed(0)} to ${band.high.toFixed(0)} kPa belongs here` : ''
  const rule =
    verdict === 'inside' && (place.kind === 'idle' || place.kind === 'hold') && kpa < SEA_LEVEL_RULE_KPA
      ? ` A rule made at sea level would call it low: the air here presses with ${ambient.toFixed(0)} kPa, not ${(standardPressurePa(0) / 1000).toFixed(0)}.`
      : ''
  const say = {
    inside: `Healthy: ${range}.${rule}`,
    low: `Low: ${range}.`,
    high: `Deep: ${range}.`,
    unknown: hasSteadyVacuum(place.vehicle)
      ? 'No band is known for this moment.'
      : 'Each cylinder has a throttle of its own: one gauge swings with every stroke, and is not judged. The throttles against each other tell.',
  }[verdict]
  return { showsKpa: kpa, feelsKpa, atSeaLevelKpa, verdict, say }
}
