import { inletsOf, kindOfStation, type StationId, type Vehicle } from '../engine/index.js'

/** What a feed point does to the sharing, and what a technician calls it. */
export interface Sharing {
  /** Share of the worst-placed cylinder times their number [–]: 1 is even, all in one is their number. */
  readonly worst: number
  readonly words: string
}

/** A spray that a whole stream carries: nearly even; what is left is droplets that do not turn with the air, and unequal breathing. */
const AHEAD_OF_PLATE = 1.15
/** Two nozzles in two hands are never quite alike. */
const TWO_HANDS = 1.1
/** Cylinders breathe unequally: on top of what the plenum does. */
const BREATHING = 1.05
/** Exchange between neighbouring places of a plenum by the pulses, in flows of one place [–]. */
const EXCHANGE = 4

/** Where air enters a plenum that its runners leave one after the other. */
export type PlenumInflow = 'one-end' | 'both-ends'

/**
 * Shares of what is let into one place of a plenum, by the place where it leaves, each times their number: a row of places
 * that the air passes from its inflow, each drawing alike, with an exchange between neighbours by the pulses. Four places,
 * one end, let in at the far one: 1.94 there.
 *
 * @param places - runners along the plenum, those opposite each other as one
 * @param at - place that is fed, 0 nearest to the first inflow
 */
export function plenumShares(places: number, at: number, inflow: PlenumInflow): number[] {
  // balance of each place: what leaves by runner and to its neighbours is what comes from them and from the port
  const onward = (i: number): number => (inflow === 'one-end' ? places - 1 - i : places / 2 - 1 - i)
  const m = Array.from({ length: places }, (_, i) => {
    const row = new Array<number>(places + 1).fill(0)
    row[i] += 1
    if (i + 1 < places) {
      row[i] += Math.max(0, onward(i)) + EXCHANGE
      row[i + 1] -= Math.max(0, -onward(i)) + EXCHANGE
    }
    if (i > 0) {
      row[i] += Math.max(0, -onward(i - 1)) + EXCHANGE
      row[i - 1] -= Math.max(0, onward(i - 1)) + EXCHANGE
    }
    row[places] = i === at ? places : 0
    return row
  })
  for (let i = 0; i < places; i++)
    for (let j = i + 1; j < places; j++) {
      const f = m[j][i] / m[i][i]
      if (f !== 0) for (let c = i; c <= places; c++) m[j][c] -= f * m[i][c]
    }
  const out = new Array<number>(places).fill(0)
  for (let i = places - 1; i >= 0; i--) {
    let x = m[i][places]
    for (let c = i + 1; c < places; c++) x -= m[i][c] * out[c]
    out[i] = x / m[i][i]
  }
  return out
}

/** Whether a point lies ahead of the plate. */
export const isAhead = (point: StationId): boolean =>
  ['duct', 'throttle', 'throttle-flap', 'boost-pipe'].includes(kindOfStation(point))

/** Whether a point lies in one of two inlets, each of which could be fed. */
export const inOneInlet = (v: Vehicle, point: StationId): boolean =>
  inletsOf(v) === 2 && ['duct', 'throttle', 'boost-pipe'].includes(kindOfStation(point))

/** Places along the plenum: runners of two banks stand opposite each other. */
export const plenumPlaces = (v: Vehicle): number => Math.max(1, Math.ceil(v.cylinders / Math.max(1, v.banks)))

/**
 * How evenly the cylinders share what is fed at a point of this engine.
 * @param together - two inlets, each fed by its own nozzle at the same time
 */
export function sharingAt(v: Vehicle, point: StationId, together = false): Sharing {
  const kind = kindOfStation(point)
  const all = { worst: v.cylinders, words: 'all of it goes into one cylinder' }
  if (kind === 'runners-1' || kind === 'runners-2') return all
  if (v.plenum === 'individual') return v.cylinders > 1 ? all : { worst: 1, words: 'one cylinder' }
  const places = plenumPlaces(v)
  const perBank = v.plenum === 'per-bank'
  if (inOneInlet(v, point)) {
    if (together) return { worst: TWO_HANDS * AHEAD_OF_PLATE, words: 'both inlets at once: nearly even' }
    return perBank
      ? { worst: 2 * AHEAD_OF_PLATE, words: 'one inlet of two: its bank gets all of it' }
      : {
          worst: AHEAD_OF_PLATE * Math.max(...plenumShares(Math.max(2, places), 0, 'both-ends')),
          words: 'one inlet of two: its side gets more',
        }
  }
  if (isAhead(point)) return { worst: AHEAD_OF_PLATE, words: 'ahead of the plate: nearly even' }
  const inflow: PlenumInflow = inletsOf(v) === 2 && !perBank ? 'both-ends' : 'one-end'
  const banks = perBank ? v.banks : 1
  const at = (place: number): number =>
    Math.min(v.cylinders, BREATHING * banks * Math.max(...plenumShares(places, place, inflow)))
  if (kind === 'plenum')
    return perBank
      ? { worst: at(Math.floor(places / 2)), words: 'a port in one plenum of two: its bank gets all of it' }
      : { worst: at(Math.floor(places / 2)), words: 'a central port: fairly even' }
  return {
    worst: at(places - 1),
    words: 'a port at one side: its neighbours get the most; reckoned as the far end of the plenum',
  }
}
