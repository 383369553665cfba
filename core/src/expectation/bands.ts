import { standardPressurePa } from '../air/index.js'
import { hasMaf, hasSteadyVacuum, hasTrims, type Vehicle } from '../engine/index.js'
import { maybeChannel, type ChannelId } from '../signals/index.js'
import { expectedAirflow, INTAKE_WARMING_K, type ExpectedAirflow } from './swallow.js'
import { unthrottledAir } from './blockage.js'

/** Where a reading should stand, and the scale it is shown on; canonical units. */
export interface Band {
  readonly low: number
  readonly high: number
  readonly scaleMin: number
  readonly scaleMax: number
  /** Where the band comes from, in a few words. */
  readonly from: string
  /** It comes from this car or cars of its model when they were sound. */
  readonly bySound?: boolean
}

/** What the band of a reading depends on. */
export interface BandPlace {
  readonly vehicle: Vehicle
  /** Kind of point, as typed. */
  readonly kind: 'key-on' | 'idle' | 'idle-load' | 'hold' | 'cruise' | 'pull' | 'snap' | 'deceleration' | 'cranking'
  readonly rpm?: number
  readonly manifoldKpa?: number
  readonly ambientC: number
  /** λ that the controller asks for in a pull. */
  readonly commandedLambda?: number
}

/** Manifold pressure of a warm unloaded idle, share of ambient; throttled gasoline engines. */
const IDLE_RATIO = { low: 0.26, high: 0.42 } as const

/** Most that an airflow sensor reads where nothing flows [g/s]; ours. */
export const ZERO_AIRFLOW_GS = 0.3

/** Least manifold pressure behind a plate that stands wide, nothing blown into it, share of ambient; ours. */
const WIDE_RATIO = 0.93

const AIR_FROM: Readonly<Record<ExpectedAirflow['from'], string>> = {
  pressure: 'what it must swallow at this pressure',
  'no-load-prior': 'engines of this size, wide',
  'full-load-prior': 'what it swallows with the plate wide open',
}

/** Expected airflow at a typed point. */
export function expectedAt(x: BandPlace): ExpectedAirflow | undefined {
  const v = x.vehicle
  const rpm = x.rpm ?? (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2
  if (x.kind === 'key-on' || !(rpm > 0)) return undefined
  if (v.fuel === 'diesel') return undefined
  return expectedAirflow({
    displacementL: v.displacementL,
    rpm,
    ambientPa: standardPressurePa(v.altitudeM),
    intakeC: x.ambientC + INTAKE_WARMING_K,
    manifoldPa: x.manifoldKpa !== undefined && x.manifoldKpa > 0 ? x.manifoldKpa * 1000 : undefined,
    load: x.kind === 'pull' ? 'full' : x.kind === 'idle' || x.kind === 'hold' ? 'none' : 'some',
    turbo: v.induction === 'turbo',
  })
}

/** How far the intake of a warm engine reads below and above the air of the day [K]; ours. */
const INTAKE_C = { below: 8, above: 50 } as const

/** What a wideband sensor and the fuel of an open loop leave of the commanded mixture, and a turbo that sweeps its cylinders besides, one standard deviation [–]; ours. */
export const MIXTURE_SCATTER = { openLoop: 0.03, swept: 0.03 } as const

/** Where λ of a pull belongs: at the commanded one, whatever the trims do for it. */
function commandedMixture({ kind, vehicle, commandedLambda }: BandPlace): Band | undefined {
  if (kind !== 'pull' || commandedLambda === undefined) return undefined
  const half = 2 * Math.hypot(MIXTURE_SCATTER.openLoop, vehicle.induction === 'turbo' ? MIXTURE_SCATTER.swept : 0)
  return {
    low: commandedLambda * (1 - half),
    high: commandedLambda * (1 + half),
    scaleMin: 0.6,
    scaleMax: 1.3,
    from: 'the commanded mixture',
  }
}

/** Band and scale of one channel at one point, or undefined where none is known. */
export function bandOf(channel: ChannelId, x: BandPlace): Band | undefined {
  const v = x.vehicle
  const ambient = standardPressurePa(v.altitudeM) / 1000
  const idling = x.kind === 'idle' || x.kind === 'idle-load'
  switch (channel) {
    case 'rpm': {
      if (!idling) return undefined
      const { min, max } = v.idleSpecRpm
      return {
        low: min,
        high: max + (x.kind === 'idle-load' ? 80 : 0),
        scaleMin: Math.max(0, min - 300),
        scaleMax: max + 500,
        from: 'idle of this engine',
      }
    }
    case 'maf_gs': {
      if (!hasMaf(v)) return undefined
      if (x.kind === 'key-on')
        return { low: 0, high: ZERO_AIRFLOW_GS, scaleMin: 0, scaleMax: 3, from: 'zero with the engine off' }
      if (v.fuel === 'diesel') return dieselAir(x)
      const e = expectedAt(x)
      if (!e) return undefined
      const from = AIR_FROM[e.from]
      return { low: e.lowKgS * 1e3, high: e.highKgS * 1e3, scaleMin: 0, scaleMax: e.highKgS * 1e3 * 1.6, from }
    }
    case 'charge_kpa':
    case 'map_kpa':
      if (x.kind === 'key-on')
        return {
          low: ambient - 1.5,
          high: ambient + 1.5,
          scaleMin: ambient - 25,
          scaleMax: ambient + 15,
          from: 'barometer of this place',
        }
      if (channel === 'charge_kpa') return unblown(x, ambient)
      if (v.fuel === 'diesel') return dieselPressure(x, ambient)
      if (x.kind === 'pull') return widePressure(v, ambient)
      return idling
        ? {
            low: IDLE_RATIO.low * ambient,
            high: (IDLE_RATIO.high + (x.kind === 'idle-load' ? 0.08 : 0)) * ambient,
            scaleMin: 10,
            scaleMax: ambient,
            from: 'throttled idle at this height',
          }
        : undefined
    case 'gauge_vacuum_kpa':
      return hasSteadyVacuum(v) ? gaugeBand(x.kind, ambient) : undefined
    case 'stft1_pct':
    case 'stft2_pct':
    case 'ltft1_pct':
    case 'ltft2_pct':
      return x.kind === 'key-on' || x.kind === 'pull' || !hasTrims(v)
        ? undefined
        : { low: -5, high: 5, scaleMin: -30, scaleMax: 30, from: '±5 % good, ±10 % acceptable' }
    case 'battery_v':
      return x.kind === 'key-on'
        ? { low: 12.2, high: 12.9, scaleMin: 10, scaleMax: 16, from: 'rested battery' }
        : { low: 13.4, high: 14.8, scaleMin: 10, scaleMax: 16, from: 'charging' }
    case 'baro_kpa':
      return {
        low: ambient - 1.5,
        high: ambient + 1.5,
        scaleMin: ambient - 25,
        scaleMax: ambient + 15,
        from: 'this height',
      }
    case 'lambda1':
    case 'lambda2':
      return commandedMixture(x)
    case 'iat_c':
      return idling
        ? {
            low: x.ambientC - INTAKE_C.below,
            high: x.ambientC + INTAKE_C.above,
            scaleMin: -40,
            scaleMax: 120,
            from: 'air of today, warmed under the bonnet',
          }
        : undefined
    case 'idle_valve_pct':
      return idling
        ? { low: 18, high: x.kind === 'idle-load' ? 60 : 45, scaleMin: 0, scaleMax: 100, from: 'clean passages, wide' }
        : undefined
    default: {
      const ch = maybeChannel(channel)
      return ch && idling && channel === 'ect_c'
        ? { low: 75, high: 105, scaleMin: 0, scaleMax: 130, from: 'warm' }
        : undefined
    }
  }
}

/**
 * What a gauge shows at each of its moments, as shares of what the air presses here: a gauge reads what is missing to
 * ambient, so that every figure shrinks with height. Ours, from throttled gasoline engines; a snap falls to almost nothing,
 * an overrun draws deeper than idle, a starter draws little.
 */
const GAUGE: Readonly<Partial<Record<BandPlace['kind'], { low: number; high: number; from: string }>>> = {
  idle: { low: 1 - IDLE_RATIO.high, high: 1 - IDLE_RATIO.low, from: 'throttled idle at this height' },
  'idle-load': { low: 1 - IDLE_RATIO.high - 0.08, high: 1 - IDLE_RATIO.low, from: 'loaded idle at this height' },
  hold: { low: 0.58, high: 0.8, from: 'held without load at this height' },
  snap: { low: 0, high: 0.1, from: 'an open plate lets the air through' },
  deceleration: { low: 0.7, high: 0.87, from: 'plate shut, engine driven' },
  cranking: { low: 0.05, high: 0.35, from: 'plate shut, by the starter; wide' },
  pull: { low: 0, high: 1 - WIDE_RATIO, from: 'an open plate lets the air through' },
}

/** What a charger that has nothing to blow for may add all the same at a held speed [kPa]; ours. */
const IDLY_BLOWN_KPA = 8

/** Pressure ahead of the plate while the plate throttles: that of the place, and of a held speed what the charger adds. */
function unblown({ kind, vehicle: v }: BandPlace, ambient: number): Band | undefined {
  if (v.fuel === 'diesel' || (kind !== 'idle' && kind !== 'hold')) return undefined
  return {
    low: ambient - 1.5,
    high: ambient + (kind === 'hold' ? IDLY_BLOWN_KPA : 1.5),
    scaleMin: ambient - 25,
    scaleMax: ambient + 15,
    from: 'the air of this place, nothing lost on the way in',
  }
}

/** Nothing is known of what a charger adds. */
const widePressure = (v: Vehicle, ambient: number): Band | undefined =>
  v.induction === 'turbo'
    ? undefined
    : {
        low: WIDE_RATIO * ambient,
        high: 1.01 * ambient,
        scaleMin: 0.5 * ambient,
        scaleMax: 1.1 * ambient,
        from: 'an open plate lets the air through',
      }

function gaugeBand(kind: BandPlace['kind'], ambient: number): Band | undefined {
  const share = GAUGE[kind]
  return (
    share && {
      low: share.low * ambient,
      high: share.high * ambient,
      scaleMin: 0,
      scaleMax: ambient,
      from: share.from,
    }
  )
}

/** Share of a diesel's charge that exhaust gas may take up while it idles or is held without load [–]; ours, wide. */
const EXHAUST_GAS_MOST = 0.65

/** A diesel draws all the air it can, less the exhaust gas that it is given. */
function dieselAir(x: BandPlace): Band | undefined {
  const v = x.vehicle
  const rpm = x.rpm ?? (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2
  if (!['idle', 'idle-load', 'hold'].includes(x.kind) || !(rpm > 0)) return undefined
  const ambientPa = standardPressurePa(v.altitudeM)
  const full = unthrottledAir({
    displacementL: v.displacementL,
    rpm,
    ambientPa,
    intakeC: x.ambientC + INTAKE_WARMING_K,
    manifoldPa: x.manifoldKpa !== undefined && x.manifoldKpa > 0 ? x.manifoldKpa * 1000 : undefined,
  })
  return {
    low: (1 - EXHAUST_GAS_MOST) * full.lowKgS * 1e3,
    high: full.highKgS * 1e3,
    scaleMin: 0,
    scaleMax: full.highKgS * 1.4e3,
    from: 'all it can swallow, less up to two thirds exhaust gas',
  }
}

/** A diesel's manifold stands near ambient without load; a turbo one may stand above. */
function dieselPressure(x: BandPlace, ambient: number): Band | undefined {
  const high = x.kind === 'hold' ? 1.4 : 1.12
  return ['idle', 'idle-load', 'hold'].includes(x.kind)
    ? {
        low: 0.9 * ambient,
        high: (x.vehicle.induction === 'turbo' ? high : 1.02) * ambient,
        scaleMin: 0.5 * ambient,
        scaleMax: 1.6 * ambient,
        from: 'a diesel is not throttled',
      }
    : undefined
}

/** How a reading stands to its band. */
export function standing(value: number, band: Band | undefined): 'inside' | 'low' | 'high' | 'unknown' {
  if (!band) return 'unknown'
  return value < band.low ? 'low' : value > band.high ? 'high' : 'inside'
}
