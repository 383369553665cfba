import type { Vehicle } from '../engine/index.js'
import { MANY_ROWS, type OperatingPoint } from '../signals/index.js'
import type { Basics } from './basics.js'
import type { Effect } from './effect.js'
import { needBeyondTrims } from './leanNeed.js'
import type { Observation } from './observation.js'
import { readsFrozen } from './sensorObservations.js'
import {
  CLOSED_LEAK_SHARE,
  HEALTHY_IDLE_DUTY_PCT,
  LEAST_SPEED_PER_AIR,
  SCATTER,
  SOUND_WANDER_RPM,
  SPEED_PER_AIR,
} from './scatter.js'
import { airRatio, isUnmetered, runsUpBy, surplusOverBand } from './terms.js'

/** Duty of an idle valve against what the idle air asks for, as a logarithm. */
export function opening(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  const duty = p.means.idle_valve_pct
  if (v.idleControl !== 'idle-valve' || duty === undefined) return []
  const neededMm2 = (k.airKgS / k.flux) * 1e6
  const lean = needBeyondTrims(p, v, k)
  const isShut = duty <= SHUT_PCT
  return [
    {
      group: 'opening',
      point: i,
      ...(isShut ? { bound: -1 as const } : {}),
      residual:
        Math.log(Math.max(SHUT_PCT, duty) / HEALTHY_IDLE_DUTY_PCT) -
        0.5 * Math.log(neededMm2 / (4.6 * v.displacementL)),
      ownSd: SCATTER.openingPoint,
      shared: { opening: SCATTER.valveLevel },
      predict: (e) => {
        const log = Math.log(Math.max(SHUT_DUTY, remaining(e, v, k, lean(e)) / (1 - e.lostShare))) + e.dutyLog
        // how far from shut this valve stood when it was sound is its own: one that is shut is as far down as any
        return isShut && log < DRIVEN_SHUT ? FAR_DOWN : log
      },
    },
  ]
}

/** Duty at which a valve is as good as shut [%], and over a healthy one [–]: where its zero stands below that is each valve's own. */
const SHUT_PCT = 8
const SHUT_DUTY = SHUT_PCT / HEALTHY_IDLE_DUTY_PCT
/** Below every command [log]. */
const FAR_DOWN = -4
/** A command that would be driven so far is driven to its end [log]. */
const DRIVEN_SHUT = -1.15

/**
 * What the valve has still to pass over what a healthy one passes at the air that is read: that air less what comes elsewhere and
 * leaks past it; none left is shut, dirty or not. Air past a sensor that meters it is in no reading: there the valve passes all that
 * is metered, which is less, but for an engine that runs lean.
 */
function remaining(e: Effect, v: Vehicle, k: Basics, need: number): number {
  const spare = e.spareKgS / k.airKgS
  if (!isUnmetered(e, v)) return (1 - e.leakKgS / k.airKgS - spare - CLOSED_LEAK_SHARE) / (1 - CLOSED_LEAK_SHARE)
  const metered = Math.exp(need) / airRatio(e, k.airKgS)
  return (metered * (1 - spare) - CLOSED_LEAK_SHARE) / (1 - CLOSED_LEAK_SHARE) / Math.sqrt(metered)
}

/** Many controls raise idle when consumers are on; without any control the speed falls by so much, least and most [log]: a fast one has more to lose. */
const RAISED_UNDER_LOAD = 1.12
const FALLS_UNDER_LOAD = { fast: [0.1, 0.5], slow: [0.2, 0.2] } as const
const STARVED_UNDER_LOAD = 0.15
/** Air that an idle needs more of before its speed may fall, and how far it does at most for what is beyond [log]; ours. */
const BORNE = 0.1
const PULLED = 0.8
/** How far a speed follows what a valve lets in is each control's own [–]. */
const FOLLOWS = { least: 0.8, most: 1.2 } as const

/**
 * What a surplus of air makes of the speed: a part of it, the nearest to what is read. How much late spark takes back is each
 * control's own affair; where the air comes in past a sensor that meters it the mixture runs lean besides, and the middle of both is taken.
 *
 * @param surplus - log of the air beyond the need, by what passes the closed plate or valve over what passes a middle one
 */
function risen(
  read: number,
  surplus: (share: number) => number,
  { unmetered, loaded, v }: { readonly unmetered: boolean; readonly loaded: boolean; readonly v: Vehicle },
): number {
  if (unmetered) return loaded ? 0 : SPEED_PER_AIR * surplus(1)
  const most = runsUpBy(surplus(1 + SCATTER.plateLeak), v.idleSpecRpm.max, v.displacementL)
  // what a load takes of it nobody knows
  const least = loaded ? 0 : LEAST_SPEED_PER_AIR * surplus(1 - SCATTER.plateLeak)
  return Math.min(most, Math.max(least, read))
}

/** Opening lost from which no control makes good for it, and from which the weakest may not [–]; how far the speed then falls. */
const STARVES = { all: 0.75, some: 0.45 } as const
const starved = (lost: number): number => SPEED_PER_AIR * 0.3 * Math.log(1.25 - lost)

/**
 * What an opening that has been lost makes of the speed [log]: nothing while control can open further. How far a throttle may is
 * each control's own; where some can and some cannot the nearest to what is read is taken. A valve opens to its end, and shows it.
 */
function starvedBy(lost: number, v: Vehicle, read: number): number {
  if (lost > STARVES.all) return starved(lost)
  const isWeak = v.idleControl === 'electronic-throttle' && lost > STARVES.some
  return isWeak ? Math.max(starved(STARVES.all), Math.min(0, read)) : 0
}

/** Idle speed against its band: what air in excess or short of need makes of it. Told that the engine is frozen, a controller sets another. */
export function idleSpeed(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  if (v.idleControl === 'none' || p.means.rpm === undefined || readsFrozen(p)) return []
  const loaded = p.kind === 'idle-load'
  const { min } = v.idleSpecRpm
  const max = v.idleSpecRpm.max * (loaded ? RAISED_UNDER_LOAD : 1)
  const inside = Math.min(max, Math.max(min, p.rpm))
  const lean = needBeyondTrims(p, v, k)
  return [
    {
      group: 'idle-speed',
      point: i,
      residual: Math.log(p.rpm / inside),
      ownSd: loaded ? SCATTER.loadedIdleSpeed : p.rpm > inside ? SCATTER.idleSpeedAbove : SCATTER.idleSpeed,
      shared: {},
      predict: (e) => {
        const read = Math.log(p.rpm / inside)
        const surplus = (share: number): number => surplusOverBand(e, p, v, k, { need: lean(e), share })
        const byAir =
          surplus(1) > 0
            ? risen(read, surplus, { unmetered: isUnmetered(e, v), loaded, v })
            : loaded
              ? 0
              : starvedBy(e.lostShare, v, read)
        // within its band nobody sees it
        const free = Math.log(max / min) / 2
        const seen = (moved: number): number => Math.sign(moved) * Math.max(0, Math.abs(moved) - free)
        // a control that does not follow lets the speed fall when consumers come on, by as much as they take
        const [least, most] =
          !loaded || e.speedLog === 0 ? [0, 0] : e.speedLog > 0 ? FALLS_UNDER_LOAD.fast : FALLS_UNDER_LOAD.slow
        const about = e.speedLog > 0 ? FOLLOWS : { least: 1, most: 1 }
        const [low, high] = [seen(about.least * e.speedLog - most), seen(about.most * e.speedLog - least)]
        const off = Math.min(high, Math.max(low, read))
        // a valve's passage that is half shut has nothing left to give when consumers come on
        const halfShut = loaded && v.idleControl === 'idle-valve' && e.lostShare > 0.5
        // what asks for much more air than an idle has may pull it down before its control has made good for it
        const pulled =
          byAir === 0 && off === 0 ? Math.max(-PULLED * Math.max(0, e.airNeed - BORNE), Math.min(0, read)) : 0
        return byAir + off + pulled - (halfShut ? STARVED_UNDER_LOAD : 0)
      },
    },
  ]
}

/** Wander of a recorded idle; typed ones have none. */
export function wander(p: OperatingPoint, i: number): Observation[] {
  const sd = p.sds.rpm
  if (sd === undefined || p.n < MANY_ROWS) return []
  return [
    {
      group: 'wander',
      point: i,
      // what is calmer than sound says no more than sound
      residual: Math.log(Math.max(SOUND_WANDER_RPM, sd) / SOUND_WANDER_RPM),
      ownSd: SCATTER.wander,
      shared: {},
      predict: (e) => Math.max(0, e.wander),
    },
  ]
}
