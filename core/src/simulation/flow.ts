import { AIR_GAMMA, CRITICAL_RATIO, flowFunction, sharpEdgeCd } from '../air/index.js'

/**
 * Above this pressure ratio the flow function is a straight line to 0 at equal pressures: its slope is infinite
 * there and no step would be short enough. The same line runs on when the pressures are the other way round.
 */
export const LINEAR_RATIO = 0.985
const ENTRIES = 2048
const PER_RATIO = ENTRIES / (LINEAR_RATIO - CRITICAL_RATIO)
const CHOKED = flowFunction(CRITICAL_RATIO)
const LINEAR_SLOPE = -flowFunction(LINEAR_RATIO) / (1 - LINEAR_RATIO)
const TABLE = Float64Array.from({ length: ENTRIES + 2 }, (_, i) =>
  flowFunction(Math.min(1, CRITICAL_RATIO + i / PER_RATIO)),
)

/**
 * Flow function ψ(r) by table, and its slope; between r* and 0.985 within 1e-5 of the formula, a straight line above.
 * One object is used again and again: the values of the last `at` are in its fields.
 */
export class FlowTable {
  /** ψ [–]. */
  psi = 0
  /** dψ/dr [–]. */
  slope = 0

  /** @param r - p1/p0 [–], 0..1; trusted: it stands in the innermost loop */
  at(r: number): void {
    if (r <= CRITICAL_RATIO) {
      this.psi = CHOKED
      this.slope = 0
    } else if (r < LINEAR_RATIO) {
      const x = (r - CRITICAL_RATIO) * PER_RATIO
      const i = x | 0
      const low = TABLE[i]
      const rise = TABLE[i + 1] - low
      this.psi = low + rise * (x - i)
      this.slope = rise * PER_RATIO
    } else {
      this.psi = LINEAR_SLOPE * (r - 1)
      this.slope = LINEAR_SLOPE
    }
  }
}

const CD = Float64Array.from({ length: 130 }, (_, i) => sharpEdgeCd(Math.min(1, i / 128)) / 0.8)

/** Area of a sharp-edged leak at a pressure ratio against the area quoted at idle [–]: its Cd falls as the vacuum does. */
export const leakAreaShare = (r: number): number => CD[Math.round(Math.min(1, Math.max(0, r)) * 128)]

/** (p/p′)^((γ−1)/γ) − 1 by its tangent at 1 [–]; for the small pressure rises of a compressor. */
export const compressionRise = (ratio: number): number => ((AIR_GAMMA - 1) / AIR_GAMMA) * (ratio - 1)
