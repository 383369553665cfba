import { inletsOf, kindOfStation, type StationId, type Vehicle } from '../engine/index.js'

/** What a feed point does to the sharing, and what a technician calls it. */
export interface Sharing {
  /** Share of the worst-placed cylinder times their number [–]: 1 is even, all in one is their number. */
  readonly worst: number
  readonly words: string
}

/** Shares by kind of point; ours, to the safe side: a port at an end feeds its neighbours first. */
const AHEAD_OF_PLATE = 1.15
const CENTRAL = 1.35
const END_PORT = 1.8
/** One of two inlets into a plenum for all. */
const ONE_OF_TWO = 1.3

/** Whether a point lies ahead of the plate. */
export const isAhead = (point: StationId): boolean =>
  ['duct', 'throttle', 'throttle-flap', 'boost-pipe'].includes(kindOfStation(point))

/** How evenly the cylinders share what is fed at a point of this engine. */
export function sharingAt(v: Vehicle, point: StationId): Sharing {
  const kind = kindOfStation(point)
  const all = { worst: v.cylinders, words: 'all of it goes into one cylinder' }
  if (kind === 'runners-1' || kind === 'runners-2') return all
  if (v.plenum === 'individual') return v.cylinders > 1 ? all : { worst: 1, words: 'one cylinder' }
  const two = inletsOf(v) === 2 && ['duct', 'throttle', 'boost-pipe'].includes(kind)
  if (two)
    return v.plenum === 'per-bank'
      ? { worst: 2 * AHEAD_OF_PLATE, words: 'one inlet of two: its bank gets all of it' }
      : { worst: ONE_OF_TWO, words: 'one inlet of two: its side gets more' }
  if (isAhead(point)) return { worst: AHEAD_OF_PLATE, words: 'ahead of the plate: nearly even' }
  if (kind === 'plenum') return { worst: CENTRAL, words: 'a central port: fairly even' }
  return { worst: END_PORT, words: 'a port at one side: its neighbours get nearly twice their part' }
}
