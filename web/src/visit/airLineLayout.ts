import { airPathOf, trunkOf, type AirPath, type PlacedStation, type StationId, type Vehicle } from '@uvula/core'

/** A station on the drawing, in drawing units (px at full size). */
export interface DrawnStation {
  readonly placed: PlacedStation
  readonly x: number
  readonly y: number
  /** Where its label and value stand. */
  readonly side: 'above' | 'below' | 'right'
  /** For a branch: where it meets the trunk. */
  readonly joinX?: number
}

export interface AirLineDrawing {
  readonly path: AirPath
  readonly width: number
  readonly height: number
  readonly trunkY: number
  readonly from: number
  /** x of the plate: behind it the pipe is under vacuum. */
  readonly plateX: number
  readonly to: number
  readonly stations: readonly DrawnStation[]
}

/** Heights at full size, and on a phone, where the strip gives way to the bench [px]. */
const ROOMY = { trunk: 94, height: 216, above: 34, below: 154 } as const
const STRIP = { trunk: 80, height: 182, above: 32, below: 128 } as const
const STRIP_BELOW = 720
const EDGE = 52
/** Room two branches take, one above and one below [px]. */
const BRANCH_ROOM = 108
/** Least width at which labels do not touch, by what hangs on the trunk [px]. */
const TRUNK_ROOM = 92
const BANK_ROOM = 150

/** Lays one engine's path out: trunk left to right, branches above and below in turn, banks forking at the end. */
export function drawAirLine(v: Vehicle, available: number): AirLineDrawing {
  const path = airPathOf(v)
  const at = available < STRIP_BELOW ? STRIP : ROOMY
  const trunk = trunkOf(path)
  const branchesOf = (id: StationId): PlacedStation[] =>
    path.stations.filter((s) => s.lane === 'branch' && s.joins === id)
  const rooms = trunk.map((t) =>
    Math.max(TRUNK_ROOM, TRUNK_ROOM * 0.6 + Math.ceil(branchesOf(t.info.id).length / 2) * BRANCH_ROOM),
  )
  const least = rooms.reduce((a, b) => a + b, 0) + 2 * EDGE + BANK_ROOM
  const width = Math.max(available, least)
  const stretch = (width - 2 * EDGE - BANK_ROOM) / (least - 2 * EDGE - BANK_ROOM)
  const stations: DrawnStation[] = []
  let x = EDGE
  trunk.forEach((t, i) => {
    const room = rooms[i] * stretch
    stations.push({ placed: t, x, y: at.trunk, side: 'above' })
    const branches = branchesOf(t.info.id)
    const rows = Math.ceil(branches.length / 2)
    branches.forEach((b, k) => {
      const column = Math.floor(k / 2)
      const step = (room - TRUNK_ROOM * 0.4) / Math.max(1, rows)
      const above = k % 2 === 0
      const bx = x + step * (column + (above ? 0.62 : 0.95))
      stations.push({ placed: b, x: bx, y: above ? at.above : at.below, side: above ? 'above' : 'below', joinX: bx })
    })
    x += room
  })
  const to = x - rooms[rooms.length - 1] * stretch + 50
  const banks = path.stations.filter((s) => s.lane === 'bank')
  banks.forEach((b, k) => {
    const y = banks.length === 1 ? at.trunk : k === 0 ? at.trunk - 30 : at.trunk + 30
    stations.push({ placed: b, x: to + 96, y, side: 'right' })
  })
  const plateX = stations.find((s) => s.placed.info.id === 'throttle')?.x ?? EDGE
  return { path, width, height: at.height, trunkY: at.trunk, from: EDGE, plateX, to, stations }
}
