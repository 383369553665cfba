import { airPathOf, stationInfo, type StationId, type Vehicle } from '../engine/index.js'
import { piecesOf } from './items.js'
import { type Arrival } from './itemRecords.js'
import { live, type VisitFile } from './records.js'
import { nextPartsDay } from './repairOptions.js'

/** A part that is to be had before the car can go. */
export interface PartToOrder {
  readonly item?: string
  readonly words: string
  readonly count: number
  readonly why: string
  readonly state: 'needed' | 'ordered' | 'have'
  /** Day it comes at the earliest, yyyy-mm-dd; undefined where the shop has no such day. */
  readonly comesOn?: string
}

const WHY: Readonly<Record<Exclude<Arrival, 'present'>, string>> = {
  missing: 'missing on arrival',
  broken: 'broken',
  stripped: 'stripped',
  hardened: 'hardened',
}

/** Age from which plastic and hose are presumed lost when they are taken off [years]; ours. */
export const HARDENED_YEARS = 10
const YEAR_MS = 365.25 * 86_400_000

/** Stations whose old plastic or hose will hardly survive being taken off. @param today - yyyy-mm-dd */
export function presumedLost(v: Vehicle, stations: readonly StationId[], today: string): readonly StationId[] {
  return stations.filter((id) => {
    const d = v.stations?.[id]
    const old = d?.fittedOn && (Date.parse(today) - Date.parse(d.fittedOn)) / YEAR_MS >= HARDENED_YEARS
    return old && (d.material === 'plastic' || d.material === 'rubber')
  })
}

/**
 * What is to be ordered: what was missing, broken, stripped or hardened and not renewed, seals that are doubtful or to be
 * renewed, what somebody said is needed, what is bought together with it, and old plastic on the way in.
 * @param today - yyyy-mm-dd
 * @param onTheWay - stations that will be opened
 */
export function partsToOrder(
  f: VisitFile,
  partsDays: readonly number[],
  today: string,
  onTheWay: readonly StationId[] = [],
): readonly PartToOrder[] {
  const comesOn = nextPartsDay(partsDays, today)
  const out: PartToOrder[] = []
  const add = (p: Omit<PartToOrder, 'comesOn'>): void =>
    void out.push({ ...p, ...(p.state !== 'have' && comesOn ? { comesOn } : {}) })
  for (const i of live(f.items)) {
    const bad = piecesOf(i).filter((p) => p.arrival !== 'present' && !p.renewed)
    const { seal, makerSays, order, pairedWith } = i.more ?? {}
    const sealWhy =
      seal === 'doubtful' ? 'doubtful' : makerSays === 'renew' && seal !== 'new' ? 'the maker says renew' : undefined
    const why = bad.length
      ? WHY[bad[0].arrival as keyof typeof WHY]
      : (sealWhy ?? (order === 'needed' ? 'asked for' : undefined))
    if (!why && order === undefined) continue
    const at = `at the ${stationInfo(i.station).label}`
    const state = order ?? 'needed'
    add({ item: i.id, words: `${i.name} ${at}`, count: bad.length || i.count, why: why ?? 'asked for', state })
    if (pairedWith) add({ words: pairedWith, count: 1, why: `bought together with the ${i.name}`, state })
  }
  const has = new Set(airPathOf(f.vehicle.spec).stations.map((s) => s.info.id))
  for (const id of presumedLost(
    f.vehicle.spec,
    onTheWay.filter((s) => has.has(s)),
    today,
  ))
    add({
      words: stationInfo(id).label,
      count: 1,
      why: `${f.vehicle.spec.stations![id]!.material} older than ${HARDENED_YEARS} years: presume it lost`,
      state: 'needed',
    })
  return out
}
