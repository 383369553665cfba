import { TORQUE_UNITS } from '../procedures/index.js'
import {
  ARRIVALS,
  ITEM_KINDS,
  type Arrival,
  type ItemKind,
  type ItemMore,
  type ItemRecord,
  type ItemState,
  type Piece,
} from './itemRecords.js'

/** Most pieces of one entry. */
export const MOST_PIECES = 60

/** What a name usually means; own words are a part. */
export function kindOfName(name: string): ItemKind {
  const words = name.toLowerCase()
  if (/o-?ring/.test(words)) return 'o-ring'
  if (/seal/.test(words)) return 'gasket'
  if (/pipe/.test(words)) return 'hose'
  // the last word is the thing, those before it say which: a clamp bolt is a bolt
  return (
    [...ITEM_KINDS].sort((a, b) => words.lastIndexOf(b) - words.lastIndexOf(a)).find((k) => words.includes(k)) ?? 'part'
  )
}

/** Kind of an entry; older ones tell it by their name. */
export const kindOfItem = (i: Pick<ItemRecord, 'name' | 'more'>): ItemKind => i.more?.kind ?? kindOfName(i.name)

const FASTENERS: readonly ItemKind[] = ['bolt', 'nut', 'stud', 'screw', 'clip', 'clamp']
/** What stands in a hole or over a joint and is counted one by one. */
export const isFastener = (i: Pick<ItemRecord, 'name' | 'more'>): boolean => FASTENERS.includes(kindOfItem(i))
/** What seals. */
export const isSeal = (i: Pick<ItemRecord, 'name' | 'more'>): boolean => ['gasket', 'o-ring'].includes(kindOfItem(i))

/** Each of an entry by itself. */
export const piecesOf = (i: Pick<ItemRecord, 'count' | 'state' | 'arrival' | 'more'>): readonly Piece[] =>
  i.more?.pieces ?? Array.from({ length: i.count }, () => ({ state: i.state, arrival: i.arrival }))

/** Fasteners from which a joint is heavy enough to drop when the last comes out; ours. */
const HANGS_FROM = 3

/** Whether of the fasteners of a joint one alone is still in: the easy one is left as a hanging bolt until the part is held. */
export function hangsByOne(items: readonly ItemRecord[]): boolean {
  const all = items.filter(isFastener).flatMap((i) => piecesOf(i).filter(isThere))
  return all.length >= HANGS_FROM && all.filter((p) => p.state !== 'off').length === 1
}

/** An entry's own state from its pieces': off while one is off, else loose while one is. */
function summary(pieces: readonly Piece[]): {
  readonly state: ItemState
  readonly arrival: Arrival
  readonly count: number
} {
  const has = (s: ItemState): boolean => pieces.some((p) => p.state === s)
  return {
    state: has('off') ? 'off' : has('loose') ? 'loose' : 'on',
    arrival: pieces.find((p) => p.arrival !== 'present')?.arrival ?? 'present',
    count: pieces.length,
  }
}

type Changed = Pick<ItemRecord, 'state' | 'arrival' | 'count' | 'more'>

/** An entry with other pieces; its own state, count and arrival follow from them. */
export function withPieces(i: ItemRecord, pieces: readonly Piece[]): Changed {
  return { ...summary(pieces), more: { kind: kindOfItem(i), ...i.more, pieces } }
}

/** An entry with one of its pieces changed; the others stay as they are. */
export const withPiece = (i: ItemRecord, k: number, part: Partial<Piece>): Changed =>
  withPieces(
    i,
    piecesOf(i).map((p, n) => (n === k ? { ...p, ...part } : p)),
  )

/** An entry with all of its pieces in one state; what was missing on arrival stays missing. */
export const withAll = (i: ItemRecord, state: ItemState): Changed =>
  withPieces(
    i,
    piecesOf(i).map((p) => (isThere(p) ? { ...p, state } : p)),
  )

/** True when there is something to put on: it was there, or a new one came. */
export const isThere = (p: Piece): boolean => p.arrival !== 'missing' || p.renewed === true

const object = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x)
const text = (x: unknown, max: number): boolean => x === undefined || (typeof x === 'string' && x.length <= max)
const among = (x: unknown, list: readonly string[]): boolean => x === undefined || list.includes(x as string)

/** What is wrong with the details of a part that somebody sends, in words; undefined when nothing is. */
export function itemMoreProblem(x: unknown): string | undefined {
  if (!object(x)) return 'more must be one object with kind and pieces'
  if (!ITEM_KINDS.includes(x.kind as ItemKind)) return `more.kind must be one of: ${ITEM_KINDS.join(', ')}`
  const pieces = x.pieces
  if (!Array.isArray(pieces) || pieces.length < 1 || pieces.length > MOST_PIECES)
    return `more.pieces must be 1 to ${MOST_PIECES} of them`
  const whole = pieces.every(
    (p: unknown) =>
      object(p) &&
      ['on', 'off', 'loose'].includes(p.state as string) &&
      ARRIVALS.includes(p.arrival as Arrival) &&
      text(p.odd, 80) &&
      (p.renewed === undefined || typeof p.renewed === 'boolean'),
  )
  if (!whole) return `more.pieces must each have state on, off or loose, and arrival ${ARRIVALS.join(', ')}`
  const lists: Readonly<Record<string, readonly string[]>> = {
    carries: ['air', 'vacuum', 'coolant', 'fuel', 'oil'],
    seal: ['new', 'reused', 'doubtful'],
    makerSays: ['renew', 'may be reused'],
    sealant: ['none', 'grease', 'sealant'],
    shape: ['round', 'rows'],
    order: ['needed', 'ordered', 'have'],
  }
  for (const [field, list] of Object.entries(lists))
    if (!among(x[field], list)) return `more.${field} must be one of: ${list.join(', ')}`
  for (const field of ['size', 'groove', 'pairedWith', 'before'])
    if (!text(x[field], 120)) return `more.${field} must be a text of at most 120 letters`
  const t = x.torque
  if (t === undefined) return undefined
  return object(t) &&
    typeof t.value === 'number' &&
    t.value > 0 &&
    t.value <= 1000 &&
    TORQUE_UNITS.includes(t.unit as string) &&
    among(t.from, ['book', 'label', 'generic']) &&
    t.from !== undefined
    ? undefined
    : `more.torque must have a value of 0 to 1000, a unit of ${TORQUE_UNITS.join(', ')} and from: book, label or generic`
}

/** How many of an entry stand in a state, in the words of a list: "2 of 4 × bolt". */
export function countWords(i: ItemRecord, state: ItemState): string {
  const pieces = piecesOf(i)
  const n = pieces.filter((p) => p.state === state).length
  return n === pieces.length ? `${n} × ${i.name}` : `${n} of ${pieces.length} × ${i.name}`
}

/** Everything known of a part in a row of words: size, drive, bag, which way. */
export const detailWords = (i: ItemRecord): string =>
  [i.more?.size, i.drive, i.bag && `bag ${i.bag}`, i.way, moreWords(i.more)].filter(Boolean).join(', ')

const moreWords = (m: ItemMore | undefined): string =>
  [
    m?.carries && m.carries !== 'air' ? `carries ${m.carries}` : '',
    m?.seal ? { new: 'new', reused: 'used again', doubtful: 'doubtful' }[m.seal] : '',
    m?.sealant && m.sealant !== 'none' ? `with ${m.sealant}` : '',
  ]
    .filter(Boolean)
    .join(', ')
