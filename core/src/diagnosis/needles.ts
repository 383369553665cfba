import type { FaultId } from './faultKit.js'

/** How a gauge's needle behaves, and what it speaks for. */
export interface Needle {
  /** Kept with visits; never renamed. */
  readonly id: string
  readonly label: string
  /** What the eye sees, in a few words. */
  readonly look: string
  /** When it is watched. */
  readonly when: 'idle' | 'held' | 'snap'
  /** P(seen | this cause). */
  readonly finds: Readonly<Partial<Record<FaultId, number>>>
  /** P(seen | any other cause, and none). */
  readonly otherwise: number
  /** Physical reason. */
  readonly reason: string
}

/** Shares are ours, stated with their reason: a needle is damped, and a damped needle hides much. */
export const NEEDLES: readonly Needle[] = [
  {
    id: 'needle.steady',
    label: 'steady',
    look: 'stands still, breathes by under 2 kPa',
    when: 'idle',
    finds: {
      'weak-cylinder': 0.25,
      'ignition-misfire': 0.35,
      'valve-deposits': 0.55,
      'runner-restriction': 0.5,
      'fuel-delivery-high': 0.6,
      'idle-valve-stuck': 0.65,
      'unmetered-air-bank': 0.6,
    },
    otherwise: 0.8,
    reason: 'every cylinder draws alike; one that does not moves the needle',
  },
  {
    id: 'needle.drifting',
    label: 'drifting',
    look: 'wanders up and down over seconds',
    when: 'idle',
    finds: {
      'fuel-delivery-high': 0.25,
      'fuel-delivery-low': 0.2,
      'idle-valve-stuck': 0.25,
      'egr-open-at-idle': 0.18,
      'purge-stuck-open': 0.18,
      'throttle-deposits': 0.14,
      'map-sensor-offset': 0.12,
    },
    otherwise: 0.07,
    reason: 'mixture or idle control hunts; all cylinders move together',
  },
  {
    id: 'needle.regular-tick',
    label: 'regular tick',
    look: 'drops at the same beat, by a few kPa',
    when: 'idle',
    finds: {
      'weak-cylinder': 0.5,
      'ignition-misfire': 0.2,
      'runner-restriction': 0.2,
      'valve-deposits': 0.08,
      'unmetered-air-bank': 0.08,
    },
    otherwise: 0.02,
    reason: 'one cylinder draws less, cycle after cycle: sealing first, ignition hardly changes what is drawn',
  },
  {
    id: 'needle.irregular-tick',
    label: 'irregular tick',
    look: 'drops now and then, not at a beat',
    when: 'idle',
    finds: { 'ignition-misfire': 0.4, 'valve-deposits': 0.2, 'weak-cylinder': 0.12, 'fuel-delivery-low': 0.1 },
    otherwise: 0.03,
    reason: 'a valve sticks now and then, or a spark is missed',
  },
  {
    id: 'needle.fast-vibration',
    label: 'fast vibration',
    look: 'trembles, faster as the speed rises',
    when: 'idle',
    finds: { 'weak-cylinder': 0.12, 'valve-timing-late': 0.06, 'unmetered-air-bank': 0.06 },
    otherwise: 0.03,
    reason: 'worn guides or weak springs: valves do not shut cleanly; a gauge without damping does it too',
  },
  {
    id: 'needle.wide-swing',
    label: 'wide swing',
    look: 'swings over 10 kPa and more, regularly',
    when: 'idle',
    finds: { 'weak-cylinder': 0.15, 'unmetered-air-bank': 0.08, 'ignition-misfire': 0.08 },
    otherwise: 0.01,
    reason: 'two neighbours leak into each other, or a runner leaks at its gasket',
  },
  {
    id: 'needle.slow-fall',
    label: 'slow fall at held speed',
    look: 'at 2500 sinks over many seconds',
    when: 'held',
    finds: { 'exhaust-restriction': 0.6 },
    otherwise: 0.02,
    reason: 'gas that cannot leave builds up, and the cylinders draw less and less',
  },
  {
    id: 'needle.slow-recovery',
    label: 'slow recovery',
    look: 'after a snap comes back without a deeper swing',
    when: 'snap',
    finds: { 'exhaust-restriction': 0.35, 'weak-cylinder': 0.12, 'intake-restriction': 0.06 },
    otherwise: 0.04,
    reason: 'the exhaust holds back, or rings let by on the overrun',
  },
]

/**
 * P(this needle | these causes together): the cause that speaks loudest for it, or against it where it is rarer with a
 * cause than without.
 */
export function needleChance(n: Needle, faults: readonly FaultId[]): number {
  const shares = faults.flatMap((f) => n.finds[f] ?? [])
  if (!shares.length) return n.otherwise
  const most = Math.max(...shares)
  return most > n.otherwise ? most : Math.min(...shares)
}
