import { standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, type Vehicle, trimBanksOf } from '../engine/index.js'
import { median } from '../statistics/index.js'
import { channelLags } from './lag.js'
import { STEADY } from './point.js'
import { maybeChannel, type ChannelId } from './channels.js'
import type { Recording } from './recording.js'

/** Something about a recording that a technician should know before trusting a figure of it. */
export interface Doubt {
  readonly code:
    'open-circuit' | 'stuck' | 'zero-off' | 'not-barometric' | 'open-loop' | 'gaps' | 'seldom' | 'missing' | 'lag'
  readonly channel?: ChannelId
  /** A sentence with its figures. */
  readonly message: string
}

/** What an open temperature circuit reads, with the resolution of J1979 [°C]. */
const OPEN_CIRCUIT_C = -38
/** Below this the engine stands [rev/min]; a moving one spans at least the second figure. */
const STANDS_RPM = 50
const MOVES_RPM = 500
/** A live channel moves by more than this share of itself while the speed does. */
const STUCK_SHARE = 0.01
/** Airflow that a sound sensor may report with the engine standing [g/s]. */
const ZERO_GS = 0.4
/** How far a sound pressure sensor and the height may differ, weather included [kPa]. */
const BARO_KPA = 4
/** Rows further apart than this miss short stretches [s]. */
const SELDOM_S = 1.6
const FEW = 5

interface Spread {
  readonly n: number
  readonly low: number
  readonly high: number
  readonly mid: number
}

function spreadOf(xs: Float64Array | undefined, keep?: (i: number) => boolean): Spread | undefined {
  if (!xs) return undefined
  const list: number[] = []
  const every = keep ? 1 : Math.max(1, Math.floor(xs.length / 5000))
  for (let i = 0; i < xs.length; i += every) if (!Number.isNaN(xs[i]) && (!keep || keep(i))) list.push(xs[i])
  if (list.length < FEW) return undefined
  let low = Infinity
  let high = -Infinity
  for (const x of list) {
    low = Math.min(low, x)
    high = Math.max(high, x)
  }
  return { n: list.length, low, high, mid: median(list) }
}

/**
 * Channels that lie, stand still or are missing, and holes in time. Judged from the recording, the engine and the height
 * alone; an empty list means that nothing speaks against it.
 */
export function recordingDoubts(recording: Recording, vehicle: Vehicle): Doubt[] {
  const c = recording.columns
  const doubts: Doubt[] = []
  for (const { channel, seconds } of channelLags(recording))
    doubts.push({
      code: 'lag',
      channel,
      message: `The ${maybeChannel(channel)!.label} comes ${Math.abs(seconds).toFixed(1)} s ${seconds > 0 ? 'behind' : 'before'} the throttle: read late by the tool, or slow itself. Its figures are drawn ${seconds > 0 ? 'forward' : 'back'} by as much.`,
    })
  const rpm = spreadOf(c.rpm)
  const moved = rpm !== undefined && rpm.high - rpm.low > MOVES_RPM
  for (const [id, label] of [
    ['iat_c', 'intake air'],
    ['ect_c', 'coolant'],
  ] as const) {
    const s = spreadOf(c[id])
    if (s && s.mid <= OPEN_CIRCUIT_C)
      doubts.push({
        code: 'open-circuit',
        channel: id,
        message: `The ${label} temperature reads ${s.mid.toFixed(0)} °C: its circuit is open.`,
      })
  }
  if (moved)
    for (const [id, label] of [
      ['maf_gs', 'airflow'],
      ['map_kpa', 'manifold pressure'],
      ['throttle_pct', 'throttle'],
    ] as const) {
      const s = spreadOf(c[id])
      if (s && s.high - s.low <= STUCK_SHARE * Math.max(1, Math.abs(s.mid)))
        doubts.push({
          code: 'stuck',
          channel: id,
          message: `The ${label} stands at ${s.mid.toFixed(1)} while the speed goes from ${rpm.low.toFixed(0)} to ${rpm.high.toFixed(0)}: stuck, or not what it is called.`,
        })
    }
  const standing = (i: number): boolean => c.rpm![i] < STANDS_RPM
  const zero = c.rpm && spreadOf(c.maf_gs, standing)
  if (zero && zero.mid > ZERO_GS)
    doubts.push({
      code: 'zero-off',
      channel: 'maf_gs',
      message: `The airflow sensor reports ${zero.mid.toFixed(2)} g/s with the engine standing: its zero is off.`,
    })
  const still = c.rpm && spreadOf(c.map_kpa, standing)
  const ambient = standardPressurePa(vehicle.altitudeM) / 1000
  if (still && Math.abs(still.mid - ambient) > BARO_KPA)
    doubts.push({
      code: 'not-barometric',
      channel: 'map_kpa',
      message: `The manifold pressure reads ${still.mid.toFixed(0)} kPa with the engine standing; this height has ${ambient.toFixed(0)}.`,
    })
  const loop = spreadOf(c.fuel_status)
  const warm = (spreadOf(c.ect_c)?.high ?? 0) >= STEADY.warmC
  if (loop && loop.high < 0.5 && warm)
    doubts.push({
      code: 'open-loop',
      channel: 'fuel_status',
      message: 'The loop stays open though the engine is warm: its trims tell nothing.',
    })
  doubts.push(...ofTime(recording), ...ofChannels(recording, vehicle))
  return doubts
}

function ofTime({ columns, rows }: Recording): Doubt[] {
  const t = columns.time_s
  if (!t || rows < FEW) return []
  const steps: number[] = []
  for (let i = 1; i < rows; i++) steps.push(t[i] - t[i - 1])
  const usual = median(steps.length > 5000 ? steps.filter((_, i) => i % Math.ceil(steps.length / 5000) === 0) : steps)
  const gap = Math.max(STEADY.gapS, STEADY.gapRows * usual)
  const gaps = steps.filter((s) => s > gap)
  const out: Doubt[] = []
  if (gaps.length) {
    let longest = 0
    for (const g of gaps) longest = Math.max(longest, g)
    out.push({
      code: 'gaps',
      message: `${gaps.length === 1 ? 'One gap' : `${gaps.length} gaps`} in time, the longest ${longest.toFixed(0)} s: no stretch reaches over ${gaps.length === 1 ? 'it' : 'them'}.`,
    })
  }
  if (usual > SELDOM_S)
    out.push({
      code: 'seldom',
      message: `A row comes every ${usual.toFixed(1)} s: ask for fewer channels, short stretches are missed.`,
    })
  return out
}

/** Channels by which this engine is judged, with what each is called in a sentence. */
export function wantedChannels(v: Vehicle): readonly (readonly [ChannelId, string])[] {
  const trimmed = v.fuel === 'gasoline' && v.metering !== 'none'
  return [
    ['rpm', 'speed'],
    ...(hasMaf(v) ? ([['maf_gs', 'airflow']] as const) : []),
    ...(hasMap(v) ? ([['map_kpa', 'manifold pressure']] as const) : []),
    ...(trimmed ? ([['stft1_pct', 'fuel trims']] as const) : []),
    ...(trimmed && trimBanksOf(v) === 2 ? ([['stft2_pct', 'trims of the second bank']] as const) : []),
  ]
}

function ofChannels({ columns: c }: Recording, v: Vehicle): Doubt[] {
  return wantedChannels(v)
    .filter(([id]) => !c[id] && !(id.startsWith('stft') && c[id.replace('stft', 'ltft') as ChannelId]))
    .map(([channel, label]) => ({
      code: 'missing',
      channel,
      message: `This engine has ${label}; the recording does not: ask the tool for it next time.`,
    }))
}
