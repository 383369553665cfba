import type { OperatingPoint } from './point.js'

/** λ of a sensor that measures one; beyond, an engine that pulls does not burn. */
const PULLS_AT = { low: 0.65, high: 1.5 }
/** A reading as near to 1 as this while another mixture is commanded, by COMMANDED_OFF, is no measured one [–]. */
const ONE = 0.004
const COMMANDED_OFF = 0.03

/** Mixture of a pull by a wideband sensor. */
export interface PullMixture {
  /** Trim that would make it the commanded one [log]: λ over the commanded, and what the frozen trims add already. */
  readonly log: number
  /** Nothing tells what was commanded: it needs so much or more, since no pull is commanded lean. */
  readonly atLeast: boolean
  /** The trims of that moment were not read, and are taken as none. */
  readonly untrimmed: boolean
}

/**
 * The mixture of a pull against the commanded one, by bank. Undefined elsewhere, and where λ is no measured one: a tool that repeats
 * 1.00 whatever is commanded.
 */
export function pullMixture(p: OperatingPoint, bank: 1 | 2): PullMixture | undefined {
  const trimPct = p.means[bank === 1 ? 'trim1_pct' : 'trim2_pct']
  const read = p.means[bank === 1 ? 'lambda1' : 'lambda2']
  const asked = p.means.lambda_cmd
  if (p.kind !== 'pull' || read === undefined) return undefined
  if (read < PULLS_AT.low || read > PULLS_AT.high) return undefined
  if (Math.abs(read - 1) < ONE && (asked === undefined || Math.abs(asked - 1) > COMMANDED_OFF)) return undefined
  return {
    log: Math.log(1 + (trimPct ?? 0) / 100) + Math.log(read / (asked ?? 1)),
    atLeast: asked === undefined,
    untrimmed: trimPct === undefined,
  }
}

/** Fuel of a pull against what was commanded, mean of the banks that tell [%]; < 0 is too little. */
export function commandedFuelPct(p: OperatingPoint): number | undefined {
  const known = ([1, 2] as const).flatMap((bank) => {
    const mixture = pullMixture(p, bank)
    return mixture && !mixture.atLeast && !mixture.untrimmed ? [Math.exp(-mixture.log)] : []
  })
  return known.length ? 100 * (known.reduce((a, b) => a + b) / known.length - 1) : undefined
}
