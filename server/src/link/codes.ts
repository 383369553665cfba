import {
  dataByPid,
  decodeMonitors,
  decodeTroubleCode,
  isMapPid,
  PID_FRAME_CODE,
  PID_MONITORS,
  PIDS,
  pidsOfMap,
  SERVICE,
  troubleCodesOf,
  valuesOf,
  type ChannelId,
} from '@uvula/core'
import type { CodesRead } from '@uvula/contract'
import { LinkEnded, NoAnswer, Refused, type VehicleClient } from './vehicle-client.js'

const FRAME = 0

/** Reads codes, freeze-frame and readiness; what the vehicle will not give is named. @throws LinkEnded */
export async function readCodes(client: VehicleClient): Promise<CodesRead> {
  const refused: string[] = []
  const part = async <T>(name: string, work: () => Promise<T>): Promise<T | undefined> => {
    try {
      return await work()
    } catch (e) {
      if (e instanceof LinkEnded) throw e
      if (!(e instanceof Refused || e instanceof NoAnswer)) throw e
      refused.push(`${name}: ${e instanceof Refused ? e.message : 'no answer'}`)
      return undefined
    }
  }
  const codes = async (service: number): Promise<string[]> =>
    [...(await client.askEverybody([service])).values()].flatMap(troubleCodesOf)
  const stored = (await part('stored codes', () => codes(SERVICE.stored))) ?? []
  const pending = (await part('pending codes', () => codes(SERVICE.pending))) ?? []
  // permanent codes are newer than many cars: their absence is no trouble
  const permanent = (await part('permanent codes', () => codes(SERVICE.permanent))) ?? []
  const monitors = await part('readiness', async () => {
    const data = dataByPid(await client.ask([SERVICE.current, PID_MONITORS]), SERVICE.current).get(PID_MONITORS)
    return data && decodeMonitors(data)
  })
  const frame = stored.length || pending.length ? await part('freeze-frame', () => readFrame(client)) : undefined
  return { stored, pending, permanent, frame, monitors, refused, at: new Date().toISOString() }
}

async function readFrame(client: VehicleClient): Promise<CodesRead['frame']> {
  const code = dataByPid(await client.ask([SERVICE.freezeFrame, PID_FRAME_CODE, FRAME]), SERVICE.freezeFrame).get(
    PID_FRAME_CODE,
  )
  if (!code || (code[0] === 0 && code[1] === 0)) return undefined
  const values: Partial<Record<ChannelId, number>> = {}
  const map = dataByPid(await client.ask([SERVICE.freezeFrame, 0, FRAME]), SERVICE.freezeFrame).get(0)
  const has = map ? pidsOfMap(0, map) : []
  for (const pid of has.filter((p) => !isMapPid(p) && PIDS.some((r) => r.pid === p)))
    Object.assign(
      values,
      await client
        .ask([SERVICE.freezeFrame, pid, FRAME], 0, (m) => m[1] === pid)
        .then((m) => valuesOf(m, SERVICE.freezeFrame))
        .catch((e: unknown) => {
          if (e instanceof LinkEnded) throw e
          return {}
        }),
    )
  return { code: decodeTroubleCode(code[0], code[1]), values }
}

/** Clears codes, freeze-frame, readiness and learnt trims. @throws LinkEnded, NoAnswer, Refused */
export async function clearCodes(client: VehicleClient): Promise<void> {
  await client.ask([SERVICE.clear])
}
