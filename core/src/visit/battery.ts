import { readingsOf, lastRound } from './points.js'
import type { VisitFile } from './records.js'

/** A battery by its two voltages. */
export interface BatterySaid {
  readonly restingV?: number
  readonly crankingV?: number
  /** Undefined while neither is read, and while a charged one has not been seen to crank. */
  readonly verdict?: 'sound' | 'low' | 'weak'
  readonly said: string
  /** What of it is a finding, as the customer reads it: seen to before the intake is blamed. */
  readonly found?: string
}

/**
 * Resting, some hours after a run and without loads, a lead battery tells its charge; cranking it tells its strength.
 * 12.7 V is full, 12.4 three quarters, 12.2 half, and below 11.9 it is less than half full though the ignition draws from it; above 9.6 V while it cranks in a mild engine bay. Ours, the usual trade
 * figures; cold takes some of it.
 */
const LIMIT = { full: 12.5, half: 12.2, flat: 11.9, cranking: 9.6, crankingCold: 9.0, coldC: 0 } as const

/** What the two voltages say, before the intake is blamed for a hard start. */
export function batterySaid(f: VisitFile): BatterySaid {
  const of = (slot: 'key-on' | 'cranking'): number | undefined =>
    readingsOf(f)
      .filter((r) => r.slot === slot && r.channel === 'battery_v' && r.round <= lastRound(f))
      .reduce<{ at: string; value: number } | undefined>((a, r) => (a && a.at >= r.at ? a : r), undefined)?.value
  const restingV = of('key-on')
  const crankingV = of('cranking')
  const least = f.visit.ambientC < LIMIT.coldC ? LIMIT.crankingCold : LIMIT.cranking
  const weak = crankingV !== undefined && crankingV < least
  const found = weak
    ? `Battery: ${crankingV.toFixed(1)} V while it cranks, where ${least.toFixed(1)} are needed.`
    : restingV !== undefined && restingV < LIMIT.flat
      ? `Battery: ${restingV.toFixed(1)} V at rest, less than half charged.`
      : undefined
  const read = {
    ...(found ? { found } : {}),
    ...(restingV === undefined ? {} : { restingV }),
    ...(crankingV === undefined ? {} : { crankingV }),
  }
  if (weak)
    return restingV !== undefined && restingV >= LIMIT.full
      ? {
          ...read,
          verdict: 'weak',
          said: `Charged and yet only ${crankingV.toFixed(1)} V while it cranks: battery, cable or starter. Test them before the intake is blamed for a hard start.`,
        }
      : {
          ...read,
          verdict: 'weak',
          said: `${crankingV.toFixed(1)} V while it cranks, ${least.toFixed(1)} are needed: charge it, then crank again, before the intake is blamed for a hard start.`,
        }
  if (restingV !== undefined && restingV < LIMIT.full)
    return {
      ...read,
      verdict: 'low',
      said: `${restingV.toFixed(1)} V at rest: ${restingV < LIMIT.half ? 'less than half' : 'not fully'} charged. Charge it: relearns and readings want a full one.`,
    }
  if (restingV === undefined && crankingV === undefined)
    return {
      said: 'At rest with everything off, and while it cranks: two figures, before a hard start is the intake’s.',
    }
  if (crankingV === undefined)
    return {
      ...read,
      said: `${restingV!.toFixed(1)} V at rest: charged. Whether it holds, what it has while it cranks tells.`,
    }
  return { ...read, verdict: 'sound', said: 'The battery holds: it is not what keeps this engine from starting.' }
}
