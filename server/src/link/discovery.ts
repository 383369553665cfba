import { dataByPid, INFO_VIN, infoText, MOST_PIDS, PIDS, pidsOfMap, SERVICE, valuesOf, type PidRow } from '@uvula/core'
import { NoAnswer, Refused, type VehicleClient } from './vehicle-client.js'

/** A parameter and the controller that gives it. */
export interface Source {
  readonly row: PidRow
  readonly controller: number
}

/** What a vehicle can be asked. */
export interface Discovered {
  readonly sources: readonly Source[]
  /** Parameters that fit one request: six by the standard, one with controllers that take no more. */
  readonly perRequest: number
  readonly vin?: string
}

const NEXT_MAP = 0x20

/** Asks what the vehicle supports, map by map, and tries whether it takes several parameters at once. @throws NoAnswer, LinkEnded */
export async function discover(client: VehicleClient): Promise<Discovered> {
  const supported = new Map<number, Set<number>>()
  for (let base = 0; base < 0xe0; base += NEXT_MAP) {
    // the first map must come; one that is promised and fails costs only its own parameters
    const answers = await client.askEverybody([SERVICE.current, base]).catch((e: unknown) => {
      if (base > 0 && e instanceof NoAnswer) return new Map<number, Uint8Array>()
      throw e
    })
    let more = false
    for (const [controller, message] of answers) {
      const map = dataByPid(message, SERVICE.current).get(base)
      if (!map) continue
      const pids = pidsOfMap(base, map)
      supported.set(controller, new Set([...(supported.get(controller) ?? []), ...pids]))
      more ||= pids.includes(base + NEXT_MAP)
    }
    if (!more) break
  }
  // the engine's controller answers first by number: what several give is taken from it
  const controllers = [...supported.keys()].sort((a, b) => a - b)
  const sources: Source[] = []
  for (const row of PIDS) {
    const controller = controllers.find((c) => supported.get(c)!.has(row.pid))
    // one quantity under two numbers is asked for once
    if (controller !== undefined && !sources.some((s) => s.row.channel === row.channel))
      sources.push({ row, controller })
  }
  return { sources, perRequest: await roomInRequest(client, sources), vin: await readVin(client) }
}

async function roomInRequest(client: VehicleClient, sources: readonly Source[]): Promise<number> {
  const pair = sources.filter((s) => s.controller === sources[0].controller).slice(0, 2)
  if (pair.length < 2) return 1
  try {
    const message = await client.ask([SERVICE.current, ...pair.map((s) => s.row.pid)], pair[0].controller)
    return Object.keys(valuesOf(message, SERVICE.current)).length === 2 ? MOST_PIDS : 1
  } catch (e) {
    if (e instanceof NoAnswer || e instanceof Refused) return 1
    throw e
  }
}

async function readVin(client: VehicleClient): Promise<string | undefined> {
  try {
    const answers = await client.askEverybody([SERVICE.vehicle, INFO_VIN])
    const text = [...answers.values()].map(infoText).find((t) => t.length === 17)
    return text
  } catch {
    // many older vehicles do not tell it
    return undefined
  }
}
