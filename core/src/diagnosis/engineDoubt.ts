import { hasMaf, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { airflowOf, basicsOf } from './basics.js'

/** Sound engines of one size take up to so much more or less air unloaded; another engine does so everywhere alike [log]. */
const APART = 0.3
const ALIKE = 0.12
/** Trims of an airflow sensor that is right [%]. */
const RIGHT_TRIM_PCT = 8
const UNLOADED: readonly OperatingPoint['kind'][] = ['idle', 'hold']

/**
 * Said of an engine that takes the air of a larger or a smaller one alike at idle, held and at full load, while its trims say that the
 * air is metered right: it may not be the one that was entered. Undefined without full load, which work does not tell from size.
 *
 * @param points - merged
 */
export function engineDoubt(points: readonly OperatingPoint[], v: Vehicle): string | undefined {
  if (!hasMaf(v) || v.fuel === 'diesel' || v.induction !== 'natural') return undefined
  const logs = (kinds: readonly OperatingPoint['kind'][]): number[] =>
    points.flatMap((p) => {
      const kgS = kinds.includes(p.kind) ? airflowOf(p, v) : undefined
      return kgS === undefined ? [] : [Math.log(kgS / basicsOf(p, v).soundKgS)]
    })
  const [unloaded, full] = [logs(UNLOADED), logs(['pull'])]
  const all = [...unloaded, ...full]
  const mean = all.reduce((sum, x) => sum + x, 0) / all.length
  const trims = points.flatMap((p) => (UNLOADED.includes(p.kind) ? [p.means.trim1_pct, p.means.trim2_pct] : []))
  const isMeteredRight = trims.every((t) => t === undefined || Math.abs(t) < RIGHT_TRIM_PCT)
  if (unloaded.length < 2 || !full.length || !isMeteredRight || !trims.some((t) => t !== undefined)) return undefined
  if (Math.abs(mean) < APART || all.some((x) => Math.abs(x - mean) > ALIKE)) return undefined
  return `At idle, held and in the pull it takes about the air of a ${(v.displacementL * Math.exp(mean)).toFixed(1)} L engine, and its trims say that the airflow is right: is it the ${v.displacementL.toFixed(1)} L that is entered? What is said here goes by that.`
}
