import { standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, type Vehicle } from '../engine/index.js'
import { recordingDoubts, type ChannelId, type Doubt, type Recording } from '../signals/index.js'
import { median } from '../statistics/index.js'
import { QUANTITIES, type QuantityId } from '../units/index.js'
import { expectedAlong } from './along.js'

/**
 * No sound sensor and no fault of one is off by more than this either way over a whole recording and lets the engine run: what is, is
 * read in another unit or scaled for another part [–].
 */
const FAR = 2.2
/** How far a ratio may lie from that of a unit and still be named after it [share]. */
const NEAR = 0.2
/** Most of the rows tell the same ratio: a scale is off everywhere, a fault mostly somewhere [share of rows; share of ratio]. */
const MOST = 0.8
const SAME = 0.45
const ENOUGH = 20
/** Trims that a wrong unit does not make, since the controller reads its own [%]; and how little of its air an engine that still runs meters then [–]. */
const ASKS_PCT = 30
const PASSED = 0.25
/** Rows of a long recording that are looked at. */
const LOOKED = 5000
/** The plate is so far open that what lies behind it is ambient [%]. */
const WIDE_PCT = 70
const SOME_ROWS = 4
/** An engine seldom idles at half its idle for long [share]. */
const HALF = { low: 0.42, high: 0.6 } as const
const TURNS_RPM = 150
/** Twice this no engine of a road car turns, and twice that none is held at where it stands [rpm, s]. */
const MOST_TURNS_RPM = 4000
const HELD = { rpm: 2000, movingKph: 2, seconds: 8 } as const
/** Where a speed reads half, an engine draws twice the air of what it shows. */
const TWICE_THE_AIR = 1.45
const AMBIENT_C = 20

/** What a ratio of read to true says: as if a named unit were taken for the usual one. */
function unitOf(quantity: QuantityId, ratio: number): string | undefined {
  const [usual, ...others] = QUANTITIES[quantity].units
  const unit = others.find((u) => Math.abs(ratio * u.factor - 1) < NEAR)
  return unit && `as if ${unit.symbol} stood there as ${usual.symbol}`
}

const times = (ratio: number): string =>
  ratio >= 1
    ? `${ratio.toPrecision(2)} times what it can be`
    : `one part in ${(1 / ratio).toPrecision(2)} of what it should be`

function doubt(channel: ChannelId, label: string, quantity: QuantityId, ratio: number): Doubt {
  const as = unitOf(quantity, ratio)
  return {
    code: 'scale',
    channel,
    message: `The ${label} reads ${times(ratio)}${as ? `, ${as}` : ''}: another unit, or the scale of another part. Its figures tell nothing until that is put right.`,
  }
}

/** Ratio of the airflow to what this engine draws, where most rows tell the same. */
function airflowRatio({ columns: c, rows }: Recording, vehicle: Vehicle): number | undefined {
  if (!hasMaf(vehicle) || !c.maf_gs || !c.rpm) return undefined
  const every = Math.max(1, Math.floor(rows / LOOKED))
  const seldom = (xs: Float64Array): (number | null)[] =>
    Array.from({ length: Math.floor(rows / every) }, (_, i) => (Number.isNaN(xs[i * every]) ? null : xs[i * every]))
  const lists = Object.fromEntries(
    (['rpm', 'maf_gs', 'map_kpa', 'speed_kph'] as const).flatMap((id) => (c[id] ? [[id, seldom(c[id])]] : [])),
  )
  const { low, high } = expectedAlong(lists, vehicle, AMBIENT_C)
  const ratios = low.flatMap((a, i) => {
    const [b, x] = [high[i], lists.maf_gs[i]]
    return a !== null && b !== null && a + b > 0 && x !== null && x > 0 ? [(2 * x) / (a + b)] : []
  })
  if (ratios.length < ENOUGH) return undefined
  const mid = median(ratios)
  const alike = ratios.filter((r) => Math.abs(r / mid - 1) < SAME).length
  return alike >= MOST * ratios.length ? mid : undefined
}

/** Whether the engine asked for so much more fuel for most of the time that its air did go past the sensor. */
function isStarved({ columns: c, rows }: Recording): boolean {
  const { stft1_pct: short, ltft1_pct: long } = c
  if (!short || !long) return false
  let asking = 0
  for (let i = 0; i < rows; i++) if (short[i] + long[i] >= ASKS_PCT) asking++
  return asking > rows / 2
}

/** Ratio of the pressure behind a wide open plate to that of the height; a compressor may make more of it, nothing makes less. */
function pressureRatio({ columns: c, rows }: Recording, vehicle: Vehicle): number | undefined {
  if (!hasMap(vehicle) || !c.map_kpa || !c.throttle_pct || vehicle.fuel === 'diesel') return undefined
  const wide: number[] = []
  for (let i = 0; i < rows; i++) if (c.throttle_pct[i] > WIDE_PCT && c.map_kpa[i] > 0) wide.push(c.map_kpa[i])
  if (wide.length < SOME_ROWS) return undefined
  const ratio = median(wide) / (standardPressurePa(vehicle.altitudeM) / 1000)
  return ratio > 1 && vehicle.induction !== 'natural' ? undefined : ratio
}

/** Whether the longest stretch at which a standing engine turns faster than somebody would hold half of is long enough to have been held. */
function isHeldFast({ columns: c, rows }: Recording): boolean {
  const { time_s: t, rpm, speed_kph: road } = c
  if (!t || !rpm || !road) return false
  let from = NaN
  for (let i = 0; i < rows; i++) {
    if (Number.isNaN(rpm[i]) || Number.isNaN(road[i])) continue
    if (rpm[i] < HELD.rpm || road[i] > HELD.movingKph) from = NaN
    else if (Number.isNaN(from)) from = t[i]
    if (t[i] - from >= HELD.seconds) return true
  }
  return false
}

/** Whether an engine that idles at half its idle does so: by speeds that it would not have at twice what is read, or by its air. */
function turnsAsRead(recording: Recording, vehicle: Vehicle): boolean {
  const { rpm } = recording.columns
  if (rpm!.filter((x) => x > MOST_TURNS_RPM).length >= SOME_ROWS || isHeldFast(recording)) return true
  const air = airflowRatio(recording, vehicle)
  return air !== undefined && air > 1 / FAR && air < TWICE_THE_AIR
}

/** Ratio of the slowest running speed to the idle, where it is about a half for long and nothing shows that it is so. */
function speedRatio(recording: Recording, vehicle: Vehicle): number | undefined {
  const c = recording.columns
  if (!c.rpm) return undefined
  const idle = (vehicle.idleSpecRpm.min + vehicle.idleSpecRpm.max) / 2
  const slow = c.rpm.filter((x) => x > TURNS_RPM && x < HALF.high * idle)
  const idling = c.rpm.filter((x) => x >= HALF.high * idle && x < 1.4 * idle)
  if (slow.length < ENOUGH || slow.length < idling.length) return undefined
  const ratio = median([...slow]) / idle
  return ratio >= HALF.low && !turnsAsRead(recording, vehicle) ? ratio : undefined
}

/** Channels whose figures are right in shape and wrong in size: read in another unit, or scaled for another part. */
export function scaleDoubts(recording: Recording, vehicle: Vehicle): Doubt[] {
  const speed = speedRatio(recording, vehicle)
  // what is expected of the airflow hangs on the speed
  if (speed !== undefined)
    return [
      {
        code: 'scale',
        channel: 'rpm',
        message: `The speed reads ${times(speed)} at idle: its pick-up counts for twice as many cylinders, or once for two turns, and nothing that is judged by it holds until that is put right. Where the tachometer shows the same the engine does idle so: type its figures.`,
      },
    ]
  const far = (r: number | undefined): r is number => r !== undefined && (r > FAR || r < 1 / FAR)
  const pressure = pressureRatio(recording, vehicle)
  if (far(pressure)) return [doubt('map_kpa', 'manifold pressure', 'pressure', pressure)]
  const airflow = airflowRatio(recording, vehicle)
  const isPast = airflow !== undefined && airflow < 1 && airflow > PASSED && isStarved(recording)
  return far(airflow) && !isPast ? [doubt('maf_gs', 'airflow', 'massFlow', airflow)] : []
}

/** All that speaks against a recording of this car. */
export const fileDoubts = (recording: Recording, vehicle: Vehicle): Doubt[] => [
  ...recordingDoubts(recording, vehicle),
  ...scaleDoubts(recording, vehicle),
]
