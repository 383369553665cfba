import { hasMaf, trimBanksOf, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { airflowOf, type Basics } from './basics.js'
import type { Effect } from './effect.js'
import { airRatio, NEED_PER_LEAN } from './terms.js'

/**
 * From λ 1.18 on it burns slowly and misses, and needs several times as much, d ln ṁ / d ln λ: less at idle, where spark that was
 * kept late gives some of it back; ours.
 */
const BEARS_LEAN = Math.log(1.18)
const NEED_BEYOND = { idle: 3.4, else: 5.5 } as const
/** What engines differ by in it, of all that they need beyond a mixture that each bears [–]; ours. */
const NEED_SD = 0.3

function needOf(lean: number, p: OperatingPoint): number {
  const beyond = p.kind === 'idle' || p.kind === 'idle-load' ? NEED_BEYOND.idle : NEED_BEYOND.else
  return NEED_PER_LEAN * lean + (beyond - NEED_PER_LEAN) * Math.max(0, lean - BEARS_LEAN)
}

/** What an engine with an airflow sensor needs more of air [log] because it runs lean: its trims stand at their stop and are not enough. */
export function needBeyondTrims(p: OperatingPoint, v: Vehicle, k: Basics): (e: Effect) => number {
  const atStop = givenAtStop(p, v, k)
  if (!atStop.length) return () => 0
  // banks share the air evenly, and each gives the work that its mixture allows
  return (e) => {
    const lost = atStop.reduce((sum, { bank, given }) => {
      const asked = Math.log(airRatio(e, k.airKgS, bank)) - Math.log(1 + e.fuelError)
      return sum - Math.expm1(-needOf(Math.max(0, asked - given), p)) / trimBanksOf(v)
    }, 0)
    return -Math.log1p(-lost)
  }
}

/**
 * How little is known of that [log], by the most that it may be: by what the engine takes more than a sound one, were all that
 * its trims give for air that nobody metered.
 */
export function leanNeedSd(p: OperatingPoint, v: Vehicle, k: Basics): number {
  const kgS = airflowOf(p, v)
  const given = givenAtStop(p, v, k)
  if (kgS === undefined || !given.length) return 0
  const most = Math.log(kgS / k.soundKgS) + given.reduce((sum, g) => sum + g.given, 0) / given.length
  return NEED_SD * Math.max(0, most - NEED_PER_LEAN * BEARS_LEAN)
}

/** Banks whose trims stand at their upper stop, and what they give there [log]; none without an airflow sensor. */
function givenAtStop(
  p: OperatingPoint,
  v: Vehicle,
  k: Basics,
): readonly { readonly bank: 1 | 2; readonly given: number }[] {
  if (!hasMaf(v)) return []
  return ([1, 2] as const).flatMap((bank) => {
    const t = bank <= trimBanksOf(v) ? p.means[bank === 1 ? 'trim1_pct' : 'trim2_pct'] : undefined
    return t !== undefined && k.trimStops[bank] === 1 ? [{ bank, given: Math.log(1 + t / 100) }] : []
  })
}
