import type { CautionId } from '../cautions/index.js'
import { airPathOf, kindOfStation, maybeStation, stationInfo, STATIONS, type StationId } from '../engine/index.js'
import { accessTo } from '../procedures/index.js'
import { gateOf, type Gate, type Refusal } from './gate.js'
import { countWords, isSeal, isThere, kindOfItem, piecesOf } from './items.js'
import { type ItemKind, type ItemRecord } from './itemRecords.js'
import { live, type VisitFile } from './records.js'

/** Tick that says that the faces of a joint were seen: clean, flat, dry, nothing of the old seal left. */
export const facesTick = (station: StationId): string => `faces:${station}`
/** Ticks of coolant: cold and without pressure before a hose comes off; made up before the start; bled and dry after. */
export const COOLANT_FILLED = 'coolant-filled'
export const COOLANT_BLED = 'coolant-bled'

const ticked = (f: VisitFile, caution: string): boolean => live(f.ticks).some((t) => t.caution === caution)

/** Whether coolant was seen to since its hoses were last written down: what came off once more is asked for once more. */
export function coolantSeen(f: VisitFile, caution: typeof COOLANT_FILLED | typeof COOLANT_BLED): boolean {
  const last = itemsOf(f)
    .filter((i) => i.more?.carries === 'coolant')
    .reduce((at, i) => (i.at > at ? i.at : at), '')
  return live(f.ticks).some((t) => t.caution === caution && t.at >= last)
}

const itemsOf = (f: VisitFile): readonly ItemRecord[] => live(f.items)

/** STOPs that stand before a part comes off: what is hot and turns, a plate that shuts, a line under pressure. */
export function stopsBefore(i: Pick<ItemRecord, 'station' | 'more'>): readonly CautionId[] {
  return [
    'belts-fan-hot-coolant',
    ...(kindOfStation(i.station) === 'throttle' ? (['throttle-plate-shuts'] as const) : []),
    ...(i.more?.carries === 'fuel' ? (['test-fuel-line'] as const) : []),
  ]
}

/** Whether a part may come off now: its STOPs seen to. What was taken off is a fact; the server stores and marks it. */
export const mayTakeOff = (f: VisitFile, i: Pick<ItemRecord, 'station' | 'more'>): Gate =>
  gateOf(
    stopsBefore(i)
      .filter((c) => !ticked(f, c))
      .map((rule) => ({ rule, message: 'Tick the STOP above, then it comes off.' })),
  )

/** Parts that are off, or loose on purpose. */
export function openItems(f: VisitFile): Refusal[] {
  const out: Refusal[] = []
  for (const i of itemsOf(f)) {
    const at = `at the ${stationInfo(i.station).label}`
    const pieces = piecesOf(i)
    if (pieces.some((p) => p.state === 'off'))
      out.push({
        rule: 'item-off',
        message: `Off: ${countWords(i, 'off')} ${at}${i.bag ? `, bag ${i.bag}` : ''}.`,
      })
    if (pieces.some((p) => p.state === 'loose'))
      out.push({
        rule: 'item-loose',
        message: `Loose on purpose: ${countWords(i, 'loose')} ${at}${i.until ? `, until ${i.until}` : ''}.`,
      })
  }
  return out
}

/** Seals that nobody has spoken for, rings that lie double, faces that nobody has seen; asked once a joint is together again. */
export function sealRefusals(f: VisitFile): Refusal[] {
  const out: Refusal[] = []
  const items = itemsOf(f)
  const seals = items.filter((i) => i.more && isSeal(i))
  for (const station of new Set(seals.map((i) => i.station))) {
    const at = `at the ${stationInfo(station).label}`
    const here = seals.filter((i) => i.station === station)
    out.push(...doubledRings(here, at))
    if (items.some((i) => i.station === station && i.state !== 'on')) continue
    for (const i of here) {
      const { seal, makerSays } = i.more!
      if (seal === undefined)
        out.push({
          rule: 'seal-unsaid',
          message: `The ${i.name} ${at}: new, used again or doubtful? Say which.`,
          left: `Whether the ${i.name} ${at} is a new one is not written down.`,
        })
      if (seal === 'doubtful')
        out.push({
          rule: 'seal-doubtful',
          message: `The ${i.name} ${at} is doubtful: renew it, or say that it is used again.`,
          left: `The ${i.name} ${at} is doubtful.`,
        })
      if (seal === 'reused' && makerSays === 'renew')
        out.push({ rule: 'seal-renew', message: `The ${i.name} ${at}: the maker says renew, and it is the old one.` })
    }
    if (!ticked(f, facesTick(station)))
      out.push({
        rule: 'faces-unseen',
        message: `Faces ${at}: clean, flat, dry and nothing of the old seal left: tick that they were seen.`,
        left: `That the faces ${at} are clean and flat is not written down.`,
      })
  }
  return out
}

/** Two rings where one belongs: the old one stays in its groove unseen, and the joint never seats. */
function doubledRings(here: readonly ItemRecord[], at: string): Refusal[] {
  const rings = here.filter((i) => kindOfItem(i) === 'o-ring')
  return [...new Set(rings.map((i) => i.more!.groove ?? ''))].flatMap((groove) => {
    const on = rings
      .filter((i) => (i.more!.groove ?? '') === groove)
      .reduce((n, i) => n + piecesOf(i).filter((p) => p.state === 'on' && isThere(p)).length, 0)
    return on > 1
      ? [
          {
            rule: 'two-in-groove',
            message: `${on} o-rings in one groove ${at}${groove ? ` (${groove})` : ''}: take the old one out, or name their grooves apart.`,
            left: `${on} o-rings are written down for one groove ${at}.`,
          },
        ]
      : []
  })
}

/** Coolant hoses that were off: the level before the engine runs. */
export function coolantRefusals(f: VisitFile): Refusal[] {
  const hoses = itemsOf(f).filter((i) => i.more?.carries === 'coolant')
  if (!hoses.length || hoses.some((i) => i.state !== 'on')) return []
  return coolantSeen(f, COOLANT_FILLED)
    ? []
    : [
        {
          rule: 'coolant-level',
          message: 'Coolant hoses were off: make up the level, hoses tight, then tick it. What was spilt is missing.',
          left: 'Coolant hoses were off; the level is not made up yet.',
        },
      ]
}

/** After the first warm-up: bled, level again, dry at the hoses. It stands in the way of the sheet, not of the start. */
export function coolantBleedRefusals(f: VisitFile): Refusal[] {
  return itemsOf(f).some((i) => i.more?.carries === 'coolant') && !coolantSeen(f, COOLANT_BLED)
    ? [
        {
          rule: 'coolant-bled',
          message: 'Coolant hoses were off: bleed it warm, level again, look at the hoses for leaks, then tick it.',
        },
      ]
    : []
}

/** What is wrong with where branches are said to have hung, in words; undefined when nothing is. */
export function asFoundProblem(x: unknown): string | undefined {
  const ids = new Set<string>(STATIONS.map((s) => s.id))
  return typeof x === 'object' &&
    x !== null &&
    !Array.isArray(x) &&
    Object.entries(x).every(
      ([id, found]) => ids.has(id) && (found === 'off' || found === 'capped' || ids.has(found as string)),
    )
    ? undefined
    : 'asFound must be an object of branch: station, off or capped'
}

/** Branches that hang where they do not belong and that nobody has put right or left by a word. */
export function routingRefusals(f: VisitFile): Refusal[] {
  const path = airPathOf(f.vehicle.spec)
  const answered = new Set(
    live(f.repairs)
      .filter((r) => r.state === 'done')
      .map((r) => r.station),
  )
  return Object.entries(f.visit.asFound ?? {}).flatMap(([id, found]) => {
    const placed = maybeStation(path, id)
    if (!placed?.joins || found === undefined || found === placed.joins || answered.has(id as StationId)) return []
    const where = found === 'off' ? 'off' : found === 'capped' ? 'capped' : `on the ${stationInfo(found).label}`
    return [
      {
        rule: 'routing',
        message: `The ${placed.info.label} was found ${where}; it belongs on the ${stationInfo(placed.joins).label}. Put it right, or leave it by a word.`,
        left: `The ${placed.info.label} was found ${where}; it belongs on the ${stationInfo(placed.joins).label}.`,
      },
    ]
  })
}

/** Order of kinds at one joint: seal, part, its connections while it is loose, fasteners, then what stays in reach. */
const RANK: Readonly<Record<ItemKind, number>> = {
  gasket: 0,
  'o-ring': 0,
  part: 1,
  sensor: 1,
  bracket: 1,
  cover: 7,
  stud: 2,
  bolt: 4,
  nut: 4,
  screw: 4,
  clamp: 5,
  clip: 5,
  hose: 5,
  connector: 6,
}
/** A connection that is made while the part is loose comes between the part and its fasteners. */
const WHILE_LOOSE = 3

/** One line of the way back. */
export interface ClosingStep {
  readonly item: ItemRecord
  /** Its pieces that are off or loose. */
  readonly pieces: readonly number[]
  readonly why?: string
}

/**
 * Everything that is off or loose in the order in which it goes back: the deepest joint first, in each joint the seal, the
 * part, what is blind while the part is loose, the fasteners, the rest. Every open piece stands in it once.
 */
export function closingOrder(f: VisitFile): readonly ClosingStep[] {
  const v = f.vehicle.spec
  const path = airPathOf(v)
  // what comes off first goes back last: a joint before everything that lay in its way
  const opened = new Map<StationId, number>()
  for (const i of itemsOf(f))
    if (!opened.has(i.station)) opened.set(i.station, maybeStation(path, i.station) ? accessTo(v, i.station).length : 0)
  const rank = (i: ItemRecord): number => (i.more?.before ? WHILE_LOOSE : RANK[kindOfItem(i)])
  return itemsOf(f)
    .map((item): ClosingStep => {
      const pieces = piecesOf(item).flatMap((p, k) => (p.state === 'on' ? [] : [k]))
      return { item, pieces, ...(item.more?.before ? { why: item.more.before } : {}) }
    })
    .filter((s) => s.pieces.length > 0)
    .sort(
      (a, b) =>
        opened.get(b.item.station)! - opened.get(a.item.station)! ||
        a.item.station.localeCompare(b.item.station) ||
        rank(a.item) - rank(b.item) ||
        a.item.at.localeCompare(b.item.at),
    )
}
