import type { ChannelId } from '../signals/index.js'

/** How often a channel is worth asking for. */
export type Priority = 'always' | 'often' | 'seldom'

/** One parameter of service 01 and what it carries for us. */
export interface PidRow {
  readonly pid: number
  /** Bytes of data that follow its number. */
  readonly bytes: number
  readonly channel: ChannelId
  readonly priority: Priority
  /** Canonical value, or undefined when the data say that it is not given. */
  readonly decode: (d: Uint8Array) => number | undefined
  readonly encode: (x: number) => readonly number[]
}

const clamped = (x: number, most: number): number => Math.min(most, Math.max(0, Math.round(x)))
const word = (x: number): [number, number] => {
  const n = clamped(x, 0xffff)
  return [n >> 8, n & 0xff]
}

/** One byte: value = a·A + b. */
const byte = (pid: number, channel: ChannelId, priority: Priority, a: number, b: number): PidRow => ({
  pid,
  bytes: 1,
  channel,
  priority,
  decode: (d) => a * d[0] + b,
  encode: (x) => [clamped((x - b) / a, 255)],
})

/** Two bytes: value = a·(256·A + B). */
const pair = (pid: number, channel: ChannelId, priority: Priority, a: number): PidRow => ({
  pid,
  bytes: 2,
  channel,
  priority,
  decode: (d) => a * (256 * d[0] + d[1]),
  encode: (x) => word(x / a),
})

/** Two bytes of λ, and two of the sensor's voltage or of its current, which read nothing at `rest`. */
const lambda = (pid: number, channel: ChannelId, rest: number): PidRow => ({
  pid,
  bytes: 4,
  channel,
  priority: 'often',
  decode: (d) => ((256 * d[0] + d[1]) * 2) / 65_536,
  encode: (x) => [...word((x * 65_536) / 2), rest, 0],
})

const SHARE = 100 / 255
const TRIM = 100 / 128

/** Fuel system status: 2 is closed loop by the oxygen sensor, 16 the same with a fault; everything else is open. */
const CLOSED = 0x02
const CLOSED_WITH_FAULT = 0x10
const OPEN_BY_LOAD = 0x04

/**
 * Parameters that Uvula reads, with their scaling. Source: SAE J1979 (2014), appendix B. An idle valve's opening and a
 * gauge's vacuum are in no standard parameter: they are typed.
 */
export const PIDS: readonly PidRow[] = [
  {
    pid: 0x03,
    bytes: 2,
    channel: 'fuel_status',
    priority: 'often',
    decode: (d) => (d[0] === 0 ? undefined : d[0] === CLOSED || d[0] === CLOSED_WITH_FAULT ? 1 : 0),
    encode: (x) => [x >= 0.5 ? CLOSED : OPEN_BY_LOAD, 0],
  },
  byte(0x04, 'load_pct', 'often', SHARE, 0),
  byte(0x05, 'ect_c', 'seldom', 1, -40),
  byte(0x06, 'stft1_pct', 'always', TRIM, -100),
  byte(0x07, 'ltft1_pct', 'often', TRIM, -100),
  byte(0x08, 'stft2_pct', 'always', TRIM, -100),
  byte(0x09, 'ltft2_pct', 'often', TRIM, -100),
  byte(0x0b, 'map_kpa', 'always', 1, 0),
  pair(0x0c, 'rpm', 'always', 0.25),
  byte(0x0d, 'speed_kph', 'often', 1, 0),
  byte(0x0e, 'spark_deg', 'seldom', 0.5, -64),
  byte(0x0f, 'iat_c', 'seldom', 1, -40),
  pair(0x10, 'maf_gs', 'always', 0.01),
  byte(0x11, 'throttle_pct', 'always', SHARE, 0),
  pair(0x1f, 'run_time_s', 'seldom', 1),
  lambda(0x24, 'lambda1', 0x20),
  lambda(0x28, 'lambda2', 0x20),
  byte(0x2c, 'egr_pct', 'often', SHARE, 0),
  byte(0x2e, 'purge_pct', 'often', SHARE, 0),
  byte(0x33, 'baro_kpa', 'seldom', 1, 0),
  lambda(0x34, 'lambda1', 0x80),
  lambda(0x38, 'lambda2', 0x80),
  pair(0x42, 'battery_v', 'seldom', 0.001),
  pair(0x44, 'lambda_cmd', 'often', 2 / 65_536),
  byte(0x49, 'pedal_pct', 'often', SHARE, 0),
  {
    // which values are given, then command and reading of sensor A, of sensor B, and their control states
    pid: 0x70,
    bytes: 10,
    channel: 'charge_kpa',
    priority: 'often',
    decode: (d) => (d[0] & 2 ? (256 * d[3] + d[4]) / 32 : undefined),
    encode: (x) => [2, 0, 0, ...word(x * 32), 0, 0, 0, 0, 0],
  },
]

/** Row of a parameter, or undefined when Uvula does not read it. */
export const maybePid = (pid: number): PidRow | undefined => PIDS.find((r) => r.pid === pid)

/** Parameters that say which of the next 32 there are. */
export const isMapPid = (pid: number): boolean => pid % 0x20 === 0

/** Parameter numbers of a map: the highest bit of the first byte is the first after `base`. */
export function pidsOfMap(base: number, map: Uint8Array): number[] {
  const out: number[] = []
  for (let i = 0; i < 32; i++) if (map[i >> 3] & (0x80 >> (i & 7))) out.push(base + 1 + i)
  return out
}

/** The map after `base` for a set of supported parameters; its last bit says whether a next map holds any. */
export function mapOfPids(base: number, supported: Iterable<number>): Uint8Array {
  const map = new Uint8Array(4)
  for (const pid of supported) {
    const i = Math.min(pid, base + 0x20) - base - 1
    if (i >= 0) map[i >> 3] |= 0x80 >> (i & 7)
  }
  return map
}
