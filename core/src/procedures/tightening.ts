import { requireRange } from '../statistics/index.js'
import { QUANTITIES, toCanonical, unitOf } from '../units/index.js'

/** How the fasteners of a joint stand: round a hole, or in rows along a flange. */
export type JointShape = 'round' | 'rows'

/** A fastener's place on its joint, in units of the joint: x and y from −1 to 1. */
export interface HolePlace {
  readonly x: number
  readonly y: number
}

/** Where n fasteners stand. Round: evenly from the top; rows: two rows, left to right, the upper one holding the odd one. */
export function placesOf(n: number, shape: JointShape): readonly HolePlace[] {
  requireRange('n', n, Number.isInteger(n) && n >= 0, '≥ 0')
  if (shape === 'round')
    return Array.from({ length: n }, (_, i) => {
      const a = (2 * Math.PI * i) / Math.max(1, n) - Math.PI / 2
      return { x: Math.cos(a), y: Math.sin(a) }
    })
  const upper = Math.ceil(n / 2)
  return Array.from({ length: n }, (_, i) => {
    const inUpper = i < upper
    const many = inUpper ? upper : n - upper
    const k = inUpper ? i : i - upper
    return { x: many === 1 ? 0 : -1 + (2 * k) / (many - 1), y: inUpper ? -0.5 : 0.5 }
  })
}

/**
 * Order in which a joint is drawn down, as indices of its places. Round: crossing, each as far as may be from those
 * before it; rows: from the centre out, so that the flange is not pinned at its ends. Every place once.
 */
export function tighteningOrder(n: number, shape: JointShape): readonly number[] {
  const places = placesOf(n, shape)
  const left = places.map((_, i) => i)
  if (shape === 'rows')
    return left.sort((a, b) => Math.abs(places[a].x) - Math.abs(places[b].x) || places[a].y - places[b].y || a - b)
  const out: number[] = []
  while (left.length) {
    const last = out.at(-1)
    // opposite the last one; among equals farthest from all that are tight
    const far = (i: number): number =>
      last === undefined
        ? -i
        : 100 * distance(places[i], places[last]) + Math.min(...out.map((o) => distance(places[i], places[o])))
    const next = left.reduce((a, b) => (far(b) > far(a) + 1e-9 ? b : a))
    out.push(next)
    left.splice(left.indexOf(next), 1)
  }
  return out
}

const distance = (a: HolePlace, b: HolePlace): number => Math.hypot(a.x - b.x, a.y - b.y)

/** A torque as somebody read it, and where. */
export interface Torque {
  readonly value: number
  /** A symbol of TORQUE_UNITS. */
  readonly unit: string
  readonly from: 'book' | 'label' | 'generic'
}

export const TORQUE_UNITS = QUANTITIES.torque.units.map((u) => u.symbol)

/** @throws RangeError on a unit that no torque has */
export const inNewtonMetres = (t: Pick<Torque, 'value' | 'unit'>): number =>
  toCanonical(t.value, unitOf('torque', t.unit))

/** Shares of the whole torque in which a joint of several fasteners is drawn down. */
const PASSES = [0.4, 0.75, 1] as const

/** What each pass is drawn to. An unknown torque has no figure: it stays with the hand and the book. */
export function passesOf(torque: Torque | undefined, fasteners: number): readonly string[] {
  const all = fasteners > 1 ? ' in the order drawn' : ''
  if (!torque)
    return [
      fasteners > 1 ? 'all started by hand' : 'started by hand',
      `by hand, evenly${all}`,
      'torque unknown: ask the book before the last pass',
    ]
  const say = (share: number): string => {
    const nm = inNewtonMetres(torque) * share
    const own = torque.value * share
    const round = (x: number): string => (x < 10 ? x.toFixed(1) : x.toFixed(0))
    return torque.unit === 'N·m' ? `${round(own)} N·m` : `${round(own)} ${torque.unit} (${round(nm)} N·m)`
  }
  const from = {
    book: 'by the book',
    label: 'by the label',
    generic: 'generic for its size with dry threads, a fifth less where they are oiled: the book wins',
  }[torque.from]
  const passes = fasteners > 1 ? PASSES : ([1] as const)
  return [
    fasteners > 1 ? 'all started by hand' : 'started by hand',
    ...passes.map((s, i) => `${say(s)}${all}${i === passes.length - 1 ? `, ${from}` : ''}`),
  ]
}
