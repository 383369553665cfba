import type { ChannelId } from '../signals/index.js'
import { isMapPid, maybePid } from './pids.js'
import { decodeTroubleCode, encodeTroubleCode } from './troubleCodes.js'

/** Services of SAE J1979 that Uvula uses. */
export const SERVICE = {
  current: 0x01,
  freezeFrame: 0x02,
  stored: 0x03,
  clear: 0x04,
  pending: 0x07,
  vehicle: 0x09,
  permanent: 0x0a,
} as const

/** An answer's first byte is its request's plus this; a refusal begins with 0x7F. Source: ISO 14229-1, 8.3 and 8.4. */
export const POSITIVE = 0x40
export const NEGATIVE = 0x7f

/** Most parameters that one request may name. Source: SAE J1979 (2014), 7.1. */
export const MOST_PIDS = 6

/** Reasons for a refusal, in words. Source: ISO 14229-1, annex A. */
const REFUSALS: Readonly<Record<number, string>> = {
  0x10: 'refused without a reason',
  0x11: 'service not supported',
  0x12: 'not supported',
  0x13: 'request not understood',
  0x21: 'busy: ask again',
  0x22: 'conditions are not right: engine running, or speed too high',
  0x31: 'out of range',
  0x78: 'answer follows',
}

/** Refusal code of a controller that will answer later. */
export const ANSWER_FOLLOWS = 0x78
export const NOT_SUPPORTED = 0x12
export const CONDITIONS_NOT_CORRECT = 0x22

export interface LinkRefusal {
  readonly service: number
  readonly code: number
  /** In words. */
  readonly reason: string
}

/** The refusal in an answer, or undefined when it is none. */
export function refusalOf(message: Uint8Array): LinkRefusal | undefined {
  if (message[0] !== NEGATIVE || message.length < 3) return undefined
  const code = message[2]
  return { service: message[1], code, reason: REFUSALS[code] ?? `refused (0x${code.toString(16)})` }
}

export const refuse = (service: number, code: number): Uint8Array => Uint8Array.of(NEGATIVE, service, code)

/** Parts of an answer to service 01 or 02: data by parameter number. Unknown parameters end the reading: their length is not known. */
export function dataByPid(message: Uint8Array, service: 0x01 | 0x02): Map<number, Uint8Array> {
  const out = new Map<number, Uint8Array>()
  if (message[0] !== service + POSITIVE) return out
  // a freeze-frame repeats the frame's number after each parameter
  const extra = service === SERVICE.freezeFrame ? 1 : 0
  let at = 1
  while (at < message.length) {
    const pid = message[at]
    const bytes = isMapPid(pid) || pid === PID_MONITORS ? 4 : pid === PID_FRAME_CODE ? 2 : maybePid(pid)?.bytes
    if (bytes === undefined || at + 1 + extra + bytes > message.length) break
    out.set(pid, message.slice(at + 1 + extra, at + 1 + extra + bytes))
    at += 1 + extra + bytes
  }
  return out
}

/** Canonical values in an answer to service 01 or 02. */
export function valuesOf(message: Uint8Array, service: 0x01 | 0x02): Partial<Record<ChannelId, number>> {
  const out: Partial<Record<ChannelId, number>> = {}
  for (const [pid, data] of dataByPid(message, service)) {
    const row = maybePid(pid)
    const value = row?.decode(data)
    if (row && value !== undefined) out[row.channel] = value
  }
  return out
}

/** Monitor status since codes were cleared. */
export const PID_MONITORS = 0x01
/** The code that set the freeze-frame. */
export const PID_FRAME_CODE = 0x02
/** Vehicle identification number, in service 09. */
export const INFO_VIN = 0x02

/** Codes of services 03, 07 and 0A. On a CAN link their count comes first. */
export function troubleCodesOf(message: Uint8Array): string[] {
  const out: string[] = []
  for (let i = 2; i + 1 < message.length && out.length < message[1]; i += 2)
    out.push(decodeTroubleCode(message[i], message[i + 1]))
  return out
}

export const troubleCodeAnswer = (service: number, codes: readonly string[]): Uint8Array =>
  Uint8Array.of(service + POSITIVE, codes.length, ...codes.flatMap(encodeTroubleCode))

/** Readiness of one monitor. */
export interface MonitorState {
  readonly id: LinkMonitor
  readonly complete: boolean
}

export type LinkMonitor = 'misfire' | 'fuel' | 'components' | 'catalyst' | 'evaporative' | 'oxygen-sensor' | 'egr'

/** Lamp, number of codes and monitors that the vehicle has. */
export interface MonitorStatus {
  readonly lamp: boolean
  readonly codes: number
  readonly compressionIgnition: boolean
  readonly monitors: readonly MonitorState[]
}

/** Monitors with their byte and bit. Continuous ones in byte B (incomplete: four bits higher), others in C (incomplete: D). Source: SAE J1979, table B2. */
const MONITOR_BITS: readonly {
  readonly id: LinkMonitor
  readonly byte: 1 | 2
  readonly bit: number
  readonly spark: boolean
}[] = [
  { id: 'misfire', byte: 1, bit: 0, spark: false },
  { id: 'fuel', byte: 1, bit: 1, spark: false },
  { id: 'components', byte: 1, bit: 2, spark: false },
  { id: 'catalyst', byte: 2, bit: 0, spark: true },
  { id: 'evaporative', byte: 2, bit: 2, spark: true },
  { id: 'oxygen-sensor', byte: 2, bit: 5, spark: true },
  { id: 'egr', byte: 2, bit: 7, spark: false },
]
const COMPRESSION_BIT = 3

export function decodeMonitors(d: Uint8Array): MonitorStatus {
  const compressionIgnition = (d[1] & (1 << COMPRESSION_BIT)) !== 0
  const monitors = MONITOR_BITS.filter((m) => !(m.spark && compressionIgnition) && d[m.byte] & (1 << m.bit)).map(
    (m) => ({
      id: m.id,
      complete: (m.byte === 1 ? d[1] & (1 << (m.bit + 4)) : d[3] & (1 << m.bit)) === 0,
    }),
  )
  return { lamp: (d[0] & 0x80) !== 0, codes: d[0] & 0x7f, compressionIgnition, monitors }
}

export function encodeMonitors(s: MonitorStatus): Uint8Array {
  const d = new Uint8Array(4)
  d[0] = (s.lamp ? 0x80 : 0) | Math.min(0x7f, s.codes)
  if (s.compressionIgnition) d[1] |= 1 << COMPRESSION_BIT
  for (const m of MONITOR_BITS) {
    const state = s.monitors.find((x) => x.id === m.id)
    if (!state) continue
    d[m.byte] |= 1 << m.bit
    if (!state.complete) d[m.byte === 1 ? 1 : 3] |= 1 << (m.byte === 1 ? m.bit + 4 : m.bit)
  }
  return d
}

/** Text of an answer to service 09: padding left out. */
export const infoText = (message: Uint8Array): string =>
  String.fromCharCode(...message.slice(3).filter((b) => b >= 0x20 && b < 0x7f)).trim()
