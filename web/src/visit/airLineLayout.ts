import { airPathOf, trunkOf, type AirPath, type PlacedStation, type StationId, type Vehicle } from '@uvula/core'

/** A station on the drawing, in drawing units (px at full size). */
export interface DrawnStation {
  readonly placed: PlacedStation
  readonly x: number
  readonly y: number
  /** Where its label and value stand. */
  readonly side: 'above' | 'below' | 'right'
  /** For a branch: where its line begins, on the pipe or at the station that it hangs on. */
  readonly join?: { readonly x: number; readonly y: number }
}

export interface AirLineDrawing {
  readonly path: AirPath
  readonly width: number
  readonly height: number
  readonly trunkY: number
  /** The second inlet's pipe, and where it turns into the first; undefined with one inlet. */
  readonly second?: { readonly y: number; readonly turnX: number; readonly meetsX: number }
  readonly from: number
  /** x of the plate: behind it the pipe is under vacuum. */
  readonly plateX: number
  readonly to: number
  readonly stations: readonly DrawnStation[]
}

/** Heights at full size, and on a phone, where the strip gives way to the bench [px]. */
const ROOMY = { above: 34, trunk: 94, below: 154, height: 216 } as const
const STRIP = { above: 32, trunk: 80, below: 128, height: 182 } as const
/** With a second inlet its row lies between the first and what hangs below. */
const SECOND_ROW = 62
const STRIP_BELOW = 720
const EDGE = 52
const BANK_ROOM = { one: 150, two: 190 } as const
/** Room between two labels of one row, beside a line that passes a label, and for a value to the right of a ring [px]. */
const GAP = 10
const LINE_GAP = 12
const VALUE_ROOM = 62
/** Half of a value under a ring of the pipe [px]. */
const VALUE_HALF = 36
/** Branches beside which a figure stands. */
const SHOWS_A_VALUE: readonly StationId[] = ['idle-valve', 'map-sensor', 'charge-sensor', 'intake-temperature']
/** Least room a ring takes to each side [px]. */
const RING = 22

/** Half the width of a label at 16 px of the semi-condensed face, generous [px]. */
export const halfLabel = (text: string): number => (text.length * 7.4) / 2

interface Hung {
  readonly placed: PlacedStation
  x: number
  readonly row: 'above' | 'below'
  readonly on?: Hung
}

/**
 * Lays one engine's path out: trunk left to right, a second inlet as a row of its own below it, branches above and below,
 * each where there is room first, what hangs on a branch beside it, banks forking at the end. Rows are filled from the left so that no label
 * touches another or a line that passes it; what room is left is shared out evenly.
 */
export function drawAirLine(v: Vehicle, available: number): AirLineDrawing {
  const path = airPathOf(v)
  const narrow = available < STRIP_BELOW
  const base = narrow ? STRIP : ROOMY
  const second = path.stations.filter((s) => s.lane === 'second')
  const shift = second.length ? SECOND_ROW : 0
  const at = { ...base, below: base.below + shift, height: base.height + shift }
  const secondY = base.trunk + SECOND_ROW
  const trunk = trunkOf(path)
  const branchesOf = (id: StationId): PlacedStation[] =>
    path.stations.filter((s) => s.lane === 'branch' && s.joins === id)

  const xs = new Map<StationId, number>()
  const hung: Hung[] = []
  // right edges of what stands already in each row
  let aboveEdge = 0
  let belowEdge = 0
  // lines that leave the pipe: upward they pass its labels, downward only its values
  let lastUp = 0
  let lastDown = 0

  const hang = (placed: PlacedStation, least: number, row: Hung['row'], on?: Hung): Hung => {
    const half = Math.max(RING, halfLabel(placed.info.label))
    const edge = row === 'above' ? aboveEdge : belowEdge
    const x = Math.max(least, edge + GAP + half)
    const right = x + Math.max(half, SHOWS_A_VALUE.includes(placed.info.id) ? VALUE_ROOM : RING)
    if (row === 'above') aboveEdge = right
    else belowEdge = right
    const one: Hung = { placed, x, row, on }
    hung.push(one)
    // what hangs on it stands beside it, in its row
    for (const child of branchesOf(placed.info.id)) hang(child, x + RING, row, one)
    return one
  }

  let pipeEdge = EDGE
  const place = (t: PlacedStation, i: number): void => {
    const below = second.find((s) => s.info.id === `${t.info.id}-2`)
    const half = Math.max(RING, halfLabel(t.info.label), below ? halfLabel(below.info.label) : 0)
    const x =
      i === 0 ? EDGE : Math.max(pipeEdge + GAP + half, lastUp + LINE_GAP + half, lastDown + VALUE_HALF + LINE_GAP)
    pipeEdge = x + half
    xs.set(t.info.id, x)
    if (below) xs.set(below.info.id, x)
    for (const b of branchesOf(t.info.id)) {
      // above a line would cut this station's own label; below its value, or the second inlet's row
      const row: Hung['row'] = (second.length && below) || aboveEdge <= belowEdge ? 'above' : 'below'
      const least = row === 'above' ? x + half + LINE_GAP : x + VALUE_HALF + LINE_GAP
      const { x: at } = hang(b, least, row)
      if (row === 'above') lastUp = at
      else lastDown = at
    }
    if (below) for (const b of branchesOf(below.info.id)) lastDown = hang(b, x + half + LINE_GAP, 'below').x
  }
  trunk.forEach(place)

  const banks = path.stations.filter((s) => s.lane === 'bank')
  const bankRoom = banks.length === 1 ? BANK_ROOM.one : BANK_ROOM.two
  const lastTrunk = xs.get(trunk.at(-1)!.info.id)!
  const end = Math.max(lastTrunk + halfLabel(trunk.at(-1)!.info.label), lastUp, lastDown)
  const least = Math.max(end, aboveEdge - bankRoom + EDGE, belowEdge - bankRoom + EDGE) + EDGE + bankRoom
  const width = Math.max(available, least)
  // what room is left widens every gap alike: nothing that stood apart comes to touch
  const right = Math.max(aboveEdge, belowEdge, EDGE + 1)
  // a row that reaches over the banks must not be pushed off the edge
  const stretch = Math.min((width - EDGE - bankRoom) / (least - EDGE - bankRoom), (width - EDGE) / (right - EDGE))
  const wide = (x: number): number => EDGE + (x - EDGE) * stretch

  const stations: DrawnStation[] = trunk.map((t) => ({
    placed: t,
    x: wide(xs.get(t.info.id)!),
    y: at.trunk,
    side: 'above',
  }))
  for (const s of second) stations.push({ placed: s, x: wide(xs.get(s.info.id) ?? EDGE), y: secondY, side: 'below' })
  const rowY = { above: at.above, below: at.below }
  for (const h of hung) {
    const parentY = h.placed.joins && second.some((s) => s.info.id === h.placed.joins) ? secondY : at.trunk
    stations.push({
      placed: h.placed,
      x: wide(h.x),
      y: rowY[h.row],
      side: h.row,
      join: h.on ? { x: wide(h.on.x), y: rowY[h.row] } : { x: wide(h.x), y: parentY },
    })
  }
  const to = wide(end) + 20
  banks.forEach((b, k) => {
    const y = banks.length === 1 ? at.trunk : k === 0 ? at.trunk - 30 : at.trunk + 30
    stations.push({ placed: b, x: to + (banks.length === 1 ? 60 : 96), y, side: 'right' })
  })
  const plate = stations.find((s) => s.placed.info.id === 'throttle' || s.placed.info.id === 'throttle-flap')
  const meets = second.at(-1)?.joins
  const lastSecond = second.length ? wide(xs.get(second.at(-1)!.info.id) ?? EDGE) : undefined
  return {
    path,
    width,
    height: at.height,
    trunkY: at.trunk,
    ...(meets !== undefined && lastSecond !== undefined
      ? { second: { y: secondY, turnX: lastSecond + RING, meetsX: wide(xs.get(meets)!) } }
      : {}),
    from: EDGE,
    plateX: plate?.x ?? EDGE,
    to,
    stations,
  }
}
