import { AIR_GAS_CONSTANT, airDensity, flowFunction, ZERO_CELSIUS_K } from '../air/index.js'
import { hasMaf, type Vehicle } from '../engine/index.js'
import { blockageOf } from '../expectation/index.js'
import { smokeAreaMm2 } from '../tracing/index.js'
import { placeOf } from './place.js'
import type { FindingRecord, VisitFile } from './records.js'
import { roundBefore } from './remedies.js'
import { shutOffForms } from './shutOff.js'
import { between, field, type TestForm, type TestSaid } from './testForm.js'

/** Limits of judging, each ours and stated; the maker's figure wins where it is known. */
const LIMIT = {
  /** Area below which an opening is what every engine has, and from which it is a leak [mm²]. */
  smokeFailMm2: 0.5,
  boostPassMm2: 3,
  boostFailMm2: 8,
  /** Share of the pressure lost in ten seconds where the volume is not known [–]. */
  boostPassShare: 0.1,
  boostFailShare: 0.35,
  /** Exhaust back pressure at 2500 without load [kPa]. */
  backPassKpa: 10,
  backFailKpa: 20,
  /** Fuel pressure against its stated figure [–]. */
  fuelPass: 0.08,
  fuelFail: 0.15,
  /** Lowest compression against the highest [–]. */
  compressionPass: 0.87,
  compressionFail: 0.75,
} as const

/** Steps of the integral over the fall. */
const DECAY_STEPS = 200

/**
 * Opening that a closed volume empties through: dp/dt = −(R·T/V)·ṁ with ṁ = CdA·p/√(R·T)·ψ(p0/p), so that
 * CdA = V/(R·T·Δt)·∫ dp/(p/√(R·T)·ψ(p0/p)) [mm²]; the temperature settled.
 *
 * @param x - gauge pressures `from` and `to` [kPa], time [s], volume [L]
 */
function decayAreaMm2(x: {
  readonly ambientPa: number
  readonly kelvin: number
  readonly from?: number
  readonly to?: number
  readonly seconds?: number
  readonly litres: number
}): number {
  const { ambientPa: p0, kelvin, from = 0, to = 0, seconds = 1, litres } = x
  const step = (1000 * (from - to)) / DECAY_STEPS
  let sum = 0
  for (let i = 0; i < DECAY_STEPS; i++) {
    const p = p0 + 1000 * to + (i + 0.5) * step
    sum += step / ((p / Math.sqrt(AIR_GAS_CONSTANT * kelvin)) * flowFunction(p0 / p))
  }
  return ((litres * 1e-3) / (AIR_GAS_CONSTANT * kelvin * seconds)) * sum * 1e6
}

/** Forms by test; a test without one is judged by the eye. */
export const TEST_FORMS: readonly TestForm[] = [
  ...shutOffForms('pinch'),
  ...shutOffForms('purge-pinch'),
  {
    test: 'smoke',
    fields: [
      field('pressure', 'pressure of the smoke', 'pressure', 0.5, 20),
      field('flow', 'flow that the tester shows', 'number', 0, 200, { optional: true, unit: 'L/min' }),
      field('area', 'or area that it shows', 'number', 0, 2000, { optional: true, unit: 'mm²' }),
    ],
    judge: (x, f) => {
      const { pressurePa, ambientC } = placeOf(f.visit)
      const rho = airDensity(pressurePa, ambientC + ZERO_CELSIUS_K)
      const measured =
        x.area ?? (x.flow === undefined ? undefined : (x.flow / 60e3 / Math.sqrt((2 * x.pressure * 1000) / rho)) * 1e6)
      if (measured === undefined)
        return {
          outcome: 'unclear',
          said: 'No size yet: the flow or the area that the tester shows. A wisp alone is found, without a size.',
        }
      const quoted = smokeAreaMm2(measured, x.pressure * 1000)
      return {
        outcome: quoted >= LIMIT.smokeFailMm2 ? 'fail' : 'pass',
        value: measured,
        unit: 'mm²',
        said: `${measured.toFixed(1)} mm² at ${x.pressure.toFixed(1)} kPa, as much as ${quoted.toFixed(1)} mm² at idle.`,
      }
    },
  },
  {
    test: 'boost-decay',
    fields: [
      field('from', 'pressure at first', 'pressure', 5, 300),
      field('to', 'pressure at the end', 'pressure', 0, 300),
      field('seconds', 'in', 'duration', 1, 600),
      field('litres', 'volume, if known', 'number', 0.5, 60, { optional: true, unit: 'L' }),
    ],
    judge: (x, f) => {
      if (!(x.to <= x.from))
        return { outcome: 'unclear', said: 'It does not rise by itself: the supply was still open.' }
      const perMinute = ((x.from - x.to) * 60) / x.seconds
      const share = 1 - (x.to / x.from) ** (10 / x.seconds)
      const { pressurePa, ambientC } = placeOf(f.visit)
      const kelvin = ambientC + ZERO_CELSIUS_K
      if (x.litres === undefined)
        return {
          outcome: between(share, LIMIT.boostPassShare, LIMIT.boostFailShare),
          value: perMinute,
          unit: 'kPa/min',
          said: `It loses ${perMinute.toFixed(0)} kPa a minute. An area needs the volume; a sound engine loses some past its rings.`,
        }
      const area = decayAreaMm2({ ambientPa: pressurePa, kelvin, ...x, litres: x.litres })
      return {
        outcome: between(area, LIMIT.boostPassMm2, LIMIT.boostFailMm2),
        value: area,
        unit: 'mm²',
        said: `It loses ${perMinute.toFixed(0)} kPa a minute out of ${x.litres} L: about ${area.toFixed(1)} mm², rings and valves included.`,
      }
    },
  },
  {
    test: 'back-pressure',
    fields: [field('pressure', 'held at 2500', 'pressure', 0, 300)],
    judge: (x) => ({
      outcome: between(x.pressure, LIMIT.backPassKpa, LIMIT.backFailKpa),
      value: x.pressure,
      unit: 'kPa',
      said: `${x.pressure.toFixed(0)} kPa stand against the exhaust at 2500; up to ${LIMIT.backPassKpa} is free, from ${LIMIT.backFailKpa} it is held back.`,
    }),
  },
  {
    test: 'fuel-pressure',
    fields: [
      field('read', 'read on the gauge', 'pressure', 0, 25_000),
      field('stated', 'stated for this engine', 'pressure', 10, 25_000),
    ],
    judge: (x) => {
      const off = x.read / x.stated - 1
      return {
        outcome: between(Math.abs(off), LIMIT.fuelPass, LIMIT.fuelFail),
        item: off < 0 ? 'too-low' : 'too-high',
        value: Math.min(5000, x.read),
        unit: 'kPa',
        said: `${Math.abs(100 * off).toFixed(0)} % ${off < 0 ? 'below' : 'above'} what is stated.`,
      }
    },
  },
  {
    test: 'compression',
    fields: [
      field('lowest', 'lowest cylinder', 'pressure', 0, 8000),
      field('highest', 'highest cylinder', 'pressure', 100, 8000),
    ],
    judge: (x) => {
      if (!(x.lowest <= x.highest))
        return { outcome: 'unclear', said: 'The lowest is above the highest: changed over?' }
      const share = x.lowest / x.highest
      return {
        outcome: between(share, LIMIT.compressionPass, LIMIT.compressionFail),
        value: Math.min(5000, x.lowest),
        unit: 'kPa',
        said: `The lowest has ${(100 * share).toFixed(0)} % of the highest.`,
      }
    },
  },
  {
    test: 'intake-blockage',
    fields: [
      field('rpm', 'speed held', 'rotation', 600, 6000),
      field('air', 'airflow, valve shut', 'massFlow', 0.5, 600),
      field('pressure', 'pressure ahead of the manifold', 'pressure', 40, 350, { optional: true }),
    ],
    judge: (x, f) => {
      const place = placeOf(f.visit)
      const b = blockageOf(
        {
          displacementL: f.vehicle.spec.displacementL,
          rpm: x.rpm,
          ambientPa: place.pressurePa,
          intakeC: place.intakeC,
          ...(x.pressure === undefined ? {} : { manifoldPa: 1000 * x.pressure }),
        },
        x.air / 1000,
      )
      const pct = (s: number): string => (100 * s).toFixed(0)
      const takes = `It takes ${pct(b.share.median)} % of the air that it could (${pct(b.share.low)} to ${pct(b.share.high)})`
      if (!b.areaMm2) return { outcome: 'pass', said: `${takes}: nothing holds it back.` }
      const area = `${takes}: it comes through about ${b.areaMm2.median.toFixed(0)} mm² where ${b.neededMm2.toFixed(0)} would let it breathe, ${pct(b.lost.median)} % of the opening is lost (${pct(b.lost.low)} to ${pct(b.lost.high)})`
      return {
        outcome: b.lost.low > 0 ? 'fail' : 'unclear',
        value: Math.min(5000, b.areaMm2.median),
        unit: 'mm²',
        said:
          b.lost.low > 0
            ? `${area}. Look where: work inward from the inlet. A sensor that reads low would say the same.`
            : `${area}. That is inside what engines differ by.`,
      }
    },
  },
]

/** The form of a test on an engine; undefined where it is judged by the eye. */
export const testForm = (test: string, v: Vehicle): TestForm | undefined =>
  TEST_FORMS.find((t) => t.test === test && (t.suits?.(v) ?? true))

/** What a finding's own figures say, held against the readings of its time; undefined without any, or where the engine has since become another. */
export function figuresSaid(f: VisitFile, x: FindingRecord): TestSaid | undefined {
  const form = testForm(x.test, f.vehicle.spec)
  if (!form || !x.figures) return undefined
  if (!form.fields.every((q) => q.optional || x.figures![q.id] !== undefined)) return undefined
  return x.test === 'intake-blockage' && !hasMaf(f.vehicle.spec)
    ? undefined
    : form.judge(x.figures, f, { station: x.station, round: roundBefore(f, x) })
}

/** What is wrong with the figures of a test that somebody sends, in words; undefined when nothing is. */
export function figuresProblem(x: unknown): string | undefined {
  const ok =
    typeof x === 'object' &&
    x !== null &&
    !Array.isArray(x) &&
    Object.keys(x).length <= 12 &&
    Object.entries(x).every(
      ([k, v]) => /^[a-z]{1,20}$/.test(k) && typeof v === 'number' && Number.isFinite(v) && Math.abs(v) <= 1e6,
    )
  return ok ? undefined : 'figures must be an object of field: number, at most 12 of them'
}
