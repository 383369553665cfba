import { hasMaf, type Vehicle } from '../engine/index.js'
import type { MethodId } from './methods.js'

/** A question over which practitioners disagree: what is done here and why, and what the others say. */
export interface School {
  readonly id: string
  readonly asks: string
  readonly ours: string
  readonly why: string
  readonly other: string
  readonly otherWhy: string
  /** What taking the other one changes in a feed. */
  readonly take?: { readonly method?: MethodId; readonly product?: 'combustible' | 'water' }
  readonly bench: 'decarbonize' | 'clean' | 'learn'
  /** Engines on which it is a question; all where left out. */
  readonly on?: (v: Vehicle) => boolean
}

export const SCHOOLS: readonly School[] = [
  {
    id: 'where-to-feed',
    asks: 'Ahead of the plate, or at a central port?',
    ours: 'ahead of the plate',
    why: 'nearly even over the cylinders, and the plate’s own edge is reached',
    other: 'a central port',
    otherWhy: 'the duct stays on, so that a metered engine goes on metering; the middle cylinders get more',
    take: { method: 'metered-port' },
    bench: 'decarbonize',
  },
  {
    id: 'shots-or-mist',
    asks: 'Shots, or a mist all the while?',
    ours: 'shots with pauses',
    why: 'the speed and the trim come back between them, and what went in is counted',
    other: 'mist at a raised idle',
    otherWhy: 'even running and little film; the wall stays drier, so less is loosened',
    take: { method: 'mist-raised-idle' },
    bench: 'decarbonize',
  },
  {
    id: 'water-or-solvent',
    asks: 'Water, or solvent?',
    ours: 'solvent',
    why: 'water reaches chamber and valve heads only; runners, ports and plate stay as they are',
    other: 'water as mist',
    otherWhy: 'nothing burns, nothing dissolves rubber; good for a chamber that glows',
    take: { method: 'water-mist', product: 'water' },
    bench: 'decarbonize',
  },
  {
    id: 'on-or-off',
    asks: 'Throttle on the car, or off?',
    ours: 'off, where the gasket is to be had',
    why: 'both faces, the seat and the idle passage are seen, and nothing runs into the engine',
    other: 'in place',
    otherWhy: 'no gasket, no coolant, a third of the time; the back of the plate stays',
    bench: 'clean',
  },
  {
    id: 'hand-or-command',
    asks: 'The plate opened by hand, or by command?',
    ours: 'by command, or off the car',
    why: 'a motor’s gears break when they are pushed, and a plate that shuts takes the finger',
    other: 'by hand with a soft prop',
    otherWhy:
      'needs no tool; key out and away, connector off, the prop counted; a cable throttle is always moved by hand',
    bench: 'clean',
    on: (v) => v.throttle === 'electronic',
  },
  {
    id: 'soak-or-scrape',
    asks: 'Soak, or scrape?',
    ours: 'soak first',
    why: 'what has let go comes off without a mark, and no seat is scored',
    other: 'scrape dry',
    otherWhy: 'done the same hour; only where nothing seals and everything can be drawn out',
    bench: 'clean',
  },
  {
    id: 'clean-or-renew',
    asks: 'The airflow sensor cleaned, or renewed?',
    ours: 'cleaned once, measured, then decided',
    why: 'a film costs nine and half an hour; only a sensor that is still outside afterwards is worn',
    other: 'renewed at once',
    otherWhy: 'no second visit where the road to the shop is long',
    bench: 'clean',
    on: hasMaf,
  },
  {
    id: 'battery',
    asks: 'Battery off, or on?',
    ours: 'on: reset by the tool, only what the work touched',
    why: 'readiness and everything else that was learnt stay',
    other: 'off for a quarter of an hour',
    otherWhy: 'needs no tool; not every controller forgets by it, and readiness goes with it',
    bench: 'learn',
  },
]

/** Questions of a bench that this engine asks. */
export const schoolsAt = (bench: School['bench'], v: Vehicle): readonly School[] =>
  SCHOOLS.filter((s) => s.bench === bench && (s.on?.(v) ?? true))
