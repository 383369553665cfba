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
    | 'open-circuit'
    | 'stuck'
    | 'sticks'
    | 'drops-out'
    | 'jumps'
    | 'banks-apart'
    | 'zero-off'
    | 'scale'
    | 'not-barometric'
    | 'open-loop'
    | 'gaps'
    | 'seldom'
    | 'missing'
    | 'lag'
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
  doubts.push(...fitful(recording, new Set(doubts.map((d) => d.channel))), ...banksApart(recording, vehicle))
  doubts.push(...ofTime(recording), ...ofChannels(recording, vehicle))
  return doubts
}

/**
 * Channels that fail by fits: their names and units, what they read at most when their wire is off, the least leap, and
 * whether one figure while the throttle moves is a fault.
 */
const FITFUL = [
  { channel: 'maf_gs', label: 'airflow', unit: 'g/s', off: 0.1, leap: 1, moves: true },
  { channel: 'map_kpa', label: 'manifold pressure', unit: 'kPa', off: 2, leap: 6, moves: true },
  { channel: 'throttle_pct', label: 'throttle', unit: '%', off: -1, leap: 5, moves: false },
] as const
/** Nothing of it for so long in all, and in no more of its rows than this, is a loose contact [s, –]. */
const OUT_S = 1
const OUT_SHARE = 0.5
/**
 * The same figure to the last digit for so long and so many rows, while the throttle moves by so much, is a sensor that
 * sticks. The speed alone would not do: a closed plate passes the same air at any, and a wide one leaves ambient behind it.
 */
const STICKS_S = 4
const STICKS_ROWS = 8
const STICKS_PCT = 8
/** An engine that runs by itself; one that is cranked or dies down draws next to nothing [rpm]. */
const RUNS_RPM = 500
/** A value that is so far from both its neighbours [share], which agree, while speed and throttle stand, is a leap; so many are no accident. */
const LEAP = 0.3
const CALM_RPM = 0.04
const CALM_PCT = 1.5
const LEAPS = 3

/** Sensors that are sound most of the time: they drop out, stick or leap. */
function fitful({ columns: c, rows }: Recording, stuck: ReadonlySet<ChannelId | undefined>): Doubt[] {
  const { time_s: t, rpm } = c
  if (!t || !rpm || rows < STICKS_ROWS) return []
  return FITFUL.flatMap(({ channel, label, unit, off, leap, moves }): Doubt[] => {
    const xs = c[channel]
    if (!xs || stuck.has(channel)) return []
    const out = outOf(t, rpm, xs, off)
    if (out.times)
      return [
        {
          code: 'drops-out',
          channel,
          message: `The ${label} drops to nothing ${timesIn(out.times)} while the engine turns, ${out.seconds.toFixed(1)} s in all: a loose plug or a broken wire. Move its harness while you watch it.`,
        },
      ]
    const held = moves && c.throttle_pct ? stuckFor(t, c.throttle_pct, xs) : undefined
    if (held)
      return [
        {
          code: 'sticks',
          channel,
          message: `The ${label} stays at ${held.value.toFixed(2)} ${unit} for ${held.seconds.toFixed(0)} s while the throttle moves by ${held.moved.toFixed(0)} %: it sticks, or the tool repeats an old answer.`,
        },
      ]
    const leaps = leapsOf(rpm, xs, leap, c.throttle_pct)
    return leaps < LEAPS
      ? []
      : [
          {
            code: 'jumps',
            channel,
            message: `The ${label} leaps ${timesIn(leaps)} and comes back with nothing else moving: a worn track, a bad contact or interference.`,
          },
        ]
  })
}

const timesIn = (n: number): string => (n === 1 ? 'once' : `${n} times`)

/** How often and how long a channel reads nothing while the engine turns. */
function outOf(t: Float64Array, rpm: Float64Array, xs: Float64Array, off: number): { times: number; seconds: number } {
  let [times, seconds, out, read, was] = [0, 0, 0, 0, false]
  for (let i = 1; i < xs.length; i++) {
    if (Number.isNaN(xs[i]) || !(rpm[i] > RUNS_RPM)) continue
    read++
    const is = xs[i] <= off
    if (is) {
      out++
      seconds += Math.min(STEADY.gapS, t[i] - t[i - 1])
      if (!was) times++
    }
    was = is
  }
  return seconds >= OUT_S && out <= OUT_SHARE * read ? { times, seconds } : { times: 0, seconds: 0 }
}

/** The longest time that a channel repeats one figure while the throttle moves. */
function stuckFor(
  t: Float64Array,
  throttle: Float64Array,
  xs: Float64Array,
): { seconds: number; moved: number; value: number } | undefined {
  let best: { seconds: number; moved: number; value: number } | undefined
  let [from, low, high] = [0, Infinity, -Infinity]
  for (let i = 0; i < xs.length; i++) {
    if (Number.isNaN(xs[i])) continue
    if (xs[i] !== xs[from]) [from, low, high] = [i, Infinity, -Infinity]
    if (!Number.isNaN(throttle[i])) [low, high] = [Math.min(low, throttle[i]), Math.max(high, throttle[i])]
    const seconds = t[i] - t[from]
    const held = seconds >= STICKS_S && i - from >= STICKS_ROWS && high - low > STICKS_PCT
    if (held && !(best && best.seconds >= seconds)) best = { seconds, moved: high - low, value: xs[i] }
  }
  return best
}

/** How often one value stands apart from its neighbours, which agree, while speed and throttle stand. */
function leapsOf(rpm: Float64Array, xs: Float64Array, least: number, throttle: Float64Array | undefined): number {
  let leaps = 0
  for (let i = 1; i + 1 < xs.length; i++) {
    const [a, x, b] = [xs[i - 1], xs[i], xs[i + 1]]
    const far = Math.max(least, LEAP * Math.abs(a))
    const agree = Math.abs(a - b) < far / 5 && Math.abs(x - (a + b) / 2) > far
    const calm =
      Math.abs(rpm[i + 1] - rpm[i - 1]) < CALM_RPM * rpm[i] &&
      rpm[i] > STANDS_RPM &&
      Math.abs(rpm[i] - rpm[i - 1]) < CALM_RPM * rpm[i]
    const still = !throttle || throttle === xs || Math.abs(throttle[i] - throttle[i - 1]) < CALM_PCT
    if (agree && calm && still) leaps++
  }
  return leaps
}

/** Trims of two banks that pull so far apart, each its own way, that each may answer the other's sensor [%]. */
const APART_PCT = 12

function banksApart({ columns: c }: Recording, v: Vehicle): Doubt[] {
  if (trimBanksOf(v) < 2) return []
  const [one, two] = ([1, 2] as const).map(
    (b) => (spreadOf(c[`stft${b}_pct`])?.mid ?? 0) + (spreadOf(c[`ltft${b}_pct`])?.mid ?? 0),
  )
  if (!(Math.min(one, two) < -APART_PCT && Math.max(one, two) > APART_PCT)) return []
  const say = (x: number): string => `${x < 0 ? '\u2212' : '+'}${Math.abs(x).toFixed(0)} %`
  return [
    {
      code: 'banks-apart',
      message: `Bank 1 is trimmed ${say(one)} and bank 2 ${say(two)}: where the oxygen sensors were off, their plugs may have been crossed.`,
    },
  ]
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
