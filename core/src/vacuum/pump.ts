import { gaugeProblem } from './gauge.js'
import { AIR_GAS_CONSTANT, holeDiameterMm, orificeMassFlow, standardPressurePa, ZERO_CELSIUS_K } from '../air/index.js'
import { airPathOf, kindOfStation, type StationKind, type Vehicle } from '../engine/index.js'
import { median, quantile, requireRange, type Interval } from '../statistics/index.js'
import { figureText } from '../units/index.js'

/** Vacuum on a hand pump at a moment. */
export interface PumpSample {
  /** [s] after pumping ended. */
  readonly t: number
  /** [kPa below ambient]. */
  readonly kpa: number
}

/** What holding and decay say of the part behind the pump. */
export interface PumpJudged {
  /** Loss over the whole time [kPa per minute]. */
  readonly kpaPerMinute: number
  /** Effective area of the leak [mm²]; by the volume behind the pump, which is only known roughly. */
  readonly areaMm2: Interval
  /** Vacuum at which it holds after all: something opens above it [kPa]. */
  readonly holdsAtKpa?: number
  readonly verdict: 'holds' | 'leaks' | 'opens'
  readonly say: string
}

/** Parts that are tried with a hand pump; kept with visits. */
export const PUMP_PARTS = [
  { id: 'egr', label: 'EGR diaphragm' },
  { id: 'booster', label: 'booster check valve' },
  { id: 'purge', label: 'purge valve' },
  { id: 'actuator', label: 'flap or wastegate actuator' },
  { id: 'line', label: 'a line, its end closed' },
] as const
export type PumpPartId = (typeof PUMP_PARTS)[number]['id']

/** What of it this engine has: an exhaust gas valve that a motor moves has no diaphragm to hold anything. */
export function pumpPartsOf(v: Vehicle): readonly (typeof PUMP_PARTS)[number][] {
  const has: readonly StationKind[] = airPathOf(v).stations.map((s) => kindOfStation(s.info.id))
  return PUMP_PARTS.filter(({ id }) => {
    if (id === 'egr') return has.includes('egr') && v.egrControl !== 'electric'
    if (id === 'actuator') return has.includes('flaps') || v.induction === 'turbo'
    return id === 'line' || has.includes(id)
  })
}

/** Hose, gauge and a diaphragm's chamber [mL], and how unsure that is [–]; ours. */
export const PUMP_VOLUME_ML = 35
const VOLUME_UNSURE = 0.4
/** A part that loses less holds [kPa per minute]; ours, until a book says otherwise. */
export const HOLDS_KPA_PER_MINUTE = 3
/** A loss that falls to this share of its first third has come to where it holds [–], with this much vacuum left [kPa]. */
const COMES_TO_REST = 0.2
const REST_LEAST_KPA = 5

/**
 * Hold and decay on a hand pump: air through an opening of effective area A fills the volume behind it, A = V·ṗ/(R·T·ṁ₁(p))
 * with ṁ₁ the flow through one unit of area, interval by interval; the middle of the intervals, and their spread with that
 * of the volume.
 *
 * @param samples - at least two, by time, of vacuums that the air here has
 * @throws RangeError on fewer, on times that do not rise, on more vacuum than there is to have
 */
export function judgePump(samples: readonly PumpSample[], altitudeM: number): PumpJudged {
  requireRange('samples', samples.length, samples.length >= 2, '2 and more')
  const ambientPa = standardPressurePa(altitudeM)
  samples.forEach((s, i) => {
    requireRange(
      'vacuum',
      s.kpa,
      s.kpa >= 0 && s.kpa <= ambientPa / 1000,
      `0 to ${(ambientPa / 1000).toFixed(1)} kPa here`,
    )
    if (i) requireRange('time', s.t, s.t > samples[i - 1].t, `after ${samples[i - 1].t} s`)
  })
  const upstream = { pressurePa: ambientPa, temperatureK: 20 + ZERO_CELSIUS_K }
  const volumeM3 = PUMP_VOLUME_ML * 1e-6
  const steps = samples.slice(1).map((s, i) => {
    const rate = (samples[i].kpa - s.kpa) / (s.t - samples[i].t)
    const middlePa = ambientPa - 500 * (s.kpa + samples[i].kpa)
    // where both pressures are alike nothing flows and nothing is told
    const flow = orificeMassFlow(1e-6, upstream, Math.min(middlePa, 0.995 * ambientPa))
    return { rate, areaMm2: (volumeM3 * 1000 * rate) / (AIR_GAS_CONSTANT * upstream.temperatureK * flow) }
  })
  const areas = steps.map((s) => Math.max(0, s.areaMm2))
  const areaMm2 = {
    median: median(areas),
    low: quantile(areas, 0.1) * (1 - VOLUME_UNSURE),
    high: quantile(areas, 0.9) * (1 + VOLUME_UNSURE),
  }
  const first = samples[0]
  const last = samples[samples.length - 1]
  const kpaPerMinute = (60 * (first.kpa - last.kpa)) / (last.t - first.t)
  const hole = (mm2: number): string => holeDiameterMm(mm2).toFixed(2)
  const third = Math.max(1, Math.floor(steps.length / 3))
  const mean = (xs: readonly { rate: number }[]): number => xs.reduce((s, x) => s + x.rate, 0) / xs.length
  const rests =
    steps.length >= 3 &&
    kpaPerMinute > HOLDS_KPA_PER_MINUTE &&
    mean(steps.slice(-third)) < COMES_TO_REST * mean(steps.slice(0, third)) &&
    last.kpa >= REST_LEAST_KPA
  const loss = `It loses ${figureText(kpaPerMinute, 1)} kPa a minute`
  if (rests)
    return {
      kpaPerMinute,
      areaMm2,
      holdsAtKpa: last.kpa,
      verdict: 'opens',
      say: `It falls to ${last.kpa.toFixed(0)} kPa and holds there: something opens above that, by design or stuck.`,
    }
  return kpaPerMinute <= HOLDS_KPA_PER_MINUTE
    ? { kpaPerMinute, areaMm2, verdict: 'holds', say: `${loss}: it holds.` }
    : {
        kpaPerMinute,
        areaMm2,
        verdict: 'leaks',
        say: `${loss}: a leak like a hole of ${hole(areaMm2.median)} mm (${hole(areaMm2.low)} to ${hole(areaMm2.high)}), the hoses of the pump with it.`,
      }
}

/** What a pump's figures say, where this place can have them. */
export const pumpJudged = (samples: readonly PumpSample[], altitudeM: number): PumpJudged | undefined =>
  samples.some((s) => gaugeProblem(s.kpa, altitudeM)) ? undefined : judgePump(samples, altitudeM)

/** What a pump held, in a sentence; figures that this place cannot have are not judged. */
export function pumpSaid(samples: readonly PumpSample[], altitudeM: number): string {
  const wrong = samples.map((s) => gaugeProblem(s.kpa, altitudeM)).find(Boolean)
  return wrong ?? judgePump(samples, altitudeM).say
}
