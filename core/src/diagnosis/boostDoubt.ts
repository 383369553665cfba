import { standardPressurePa } from '../air/index.js'
import { hasMap, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'

/** A turbo that works blows more than the first, from the second on with the plate wide open; ours, below what any is built for. */
const HARDLY_KPA = 20
const BLOWS_FROM_RPM = 2500

/** A turbo that hardly blows in a pull: what it should reach only its maker knows, that it should reach more anybody does. */
export function boostDoubt(
  points: readonly OperatingPoint[],
  v: Vehicle,
): { readonly said: string; readonly message: string } | undefined {
  if (v.induction !== 'turbo' || !hasMap(v)) return undefined
  const ambientKpa = standardPressurePa(v.altitudeM) / 1000
  // the one that blew most
  const most = points
    .filter((p) => p.kind === 'pull' && p.rpm >= BLOWS_FROM_RPM && p.means.map_kpa !== undefined)
    .sort((a, b) => b.means.map_kpa! - a.means.map_kpa!)
    .at(0)
  if (!most || most.means.map_kpa! - ambientKpa >= HARDLY_KPA) return undefined
  const above = Math.round(most.means.map_kpa! - ambientKpa)
  const said = `In the pull the manifold stands at ${most.means.map_kpa!.toFixed(0)} kPa at ${most.rpm.toFixed(0)} rpm, ${above > 0 ? `${above} kPa above` : 'no more than'} the air of this place: the turbo hardly blows.`
  return {
    said,
    message: `${said} A pipe that is off, the line of its control, a bypass that stands open, or the turbo itself.`,
  }
}
