import type { ChannelId } from '../signals/index.js'
import {
  CONDITIONS_NOT_CORRECT,
  encodeMonitors,
  INFO_VIN,
  MOST_PIDS,
  NOT_SUPPORTED,
  PID_FRAME_CODE,
  PID_MONITORS,
  POSITIVE,
  refuse,
  SERVICE,
  troubleCodeAnswer,
  type MonitorStatus,
} from './j1979.js'
import { isMapPid, mapOfPids, PIDS } from './pids.js'
import { encodeTroubleCode } from './troubleCodes.js'

/** What a controller knows, as far as it can be asked. */
export interface Controller {
  /** Channels that it reports now, canonical units. */
  readonly values: Partial<Record<ChannelId, number>>
  readonly monitors: MonitorStatus
  readonly stored: readonly string[]
  readonly pending: readonly string[]
  readonly permanent: readonly string[]
  /** Channels kept when a code was set. */
  readonly frame?: { readonly code: string; readonly values: Partial<Record<ChannelId, number>> }
  /** 17 characters. */
  readonly vin: string
  /** Clears codes; false when it will not now. */
  readonly clear: () => boolean
}

/**
 * Answer of a controller to one request of services 01, 02, 03, 04, 07, 09 and 0A, or undefined when it keeps silent, as
 * it does when a request to everybody asks for nothing that it has. Source: SAE J1979 (2014), 7.
 */
export function answerRequest(request: Uint8Array, c: Controller, toEverybody: boolean): Uint8Array | undefined {
  const [service, first] = request
  const no = (code: number): Uint8Array | undefined => (toEverybody ? undefined : refuse(service, code))
  switch (service) {
    case SERVICE.current: {
      if (request.length < 2 || request.length > 1 + MOST_PIDS) return no(0x13)
      const has = supported(c.values, [PID_MONITORS])
      const parts = [...request.slice(1)].flatMap((pid) => {
        if (isMapPid(pid))
          return has.some((p) => p > pid) || pid === 0
            ? [
                pid,
                ...mapOfPids(
                  pid,
                  has.filter((p) => p > pid),
                ),
              ]
            : []
        if (pid === PID_MONITORS) return [pid, ...encodeMonitors(c.monitors)]
        return valueOf(pid, c.values)
      })
      return parts.length ? Uint8Array.of(service + POSITIVE, ...parts) : no(NOT_SUPPORTED)
    }
    case SERVICE.freezeFrame: {
      const frame = c.frame
      const pids = [...request.slice(1)].filter((_, i) => i % 2 === 0)
      const has = frame ? supported(frame.values, [PID_FRAME_CODE]) : [PID_FRAME_CODE]
      const parts = pids.flatMap((pid) => {
        if (isMapPid(pid))
          return [
            pid,
            0,
            ...mapOfPids(
              pid,
              has.filter((p) => p > pid),
            ),
          ]
        // without a frame the code reads as zero
        if (pid === PID_FRAME_CODE) return [pid, 0, ...(frame ? encodeTroubleCode(frame.code) : [0, 0])]
        const [number, ...data] = frame ? valueOf(pid, frame.values) : []
        return number === undefined ? [] : [number, 0, ...data]
      })
      return parts.length ? Uint8Array.of(service + POSITIVE, ...parts) : no(NOT_SUPPORTED)
    }
    case SERVICE.stored:
      return troubleCodeAnswer(service, c.stored)
    case SERVICE.pending:
      return troubleCodeAnswer(service, c.pending)
    case SERVICE.permanent:
      return troubleCodeAnswer(service, c.permanent)
    case SERVICE.clear:
      return c.clear() ? Uint8Array.of(service + POSITIVE) : refuse(service, CONDITIONS_NOT_CORRECT)
    case SERVICE.vehicle:
      if (first === 0) return Uint8Array.of(service + POSITIVE, 0, ...mapOfPids(0, [INFO_VIN]))
      if (first === INFO_VIN)
        return Uint8Array.of(service + POSITIVE, first, 1, ...[...c.vin].map((x) => x.charCodeAt(0)))
      return no(NOT_SUPPORTED)
    default:
      return no(0x11)
  }
}

/** Numbers that a controller answers to: of two for one quantity the first. */
const supported = (values: Controller['values'], more: readonly number[]): number[] => [
  ...more,
  ...PIDS.filter((r, i) => values[r.channel] !== undefined && PIDS.findIndex((x) => x.channel === r.channel) === i).map(
    (r) => r.pid,
  ),
]

function valueOf(pid: number, values: Controller['values']): number[] {
  const row = PIDS.find((r) => r.pid === pid)
  const x = row && values[row.channel]
  return row && x !== undefined ? [pid, ...row.encode(x)] : []
}
