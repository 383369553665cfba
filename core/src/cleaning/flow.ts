import { methodInfo, type MethodId } from './methods.js'

/** What of the equipment sets how fast it feeds. */
export interface FeedEquipment {
  /** Most that the regulator is to be set to, above ambient [bar]. */
  readonly pressureBar?: number
  /** Bore of the nozzle, or of the narrowest place in the line [mm]. */
  readonly nozzleMm?: number
  /** A can weighed before and after so many seconds of spraying [g], [s]. */
  readonly massG?: number
  readonly overS?: number
}

/** What a canister and its nozzle may be; ours, the tool's own limit comes first. */
export const FEED_EQUIPMENT = {
  pressureBar: { min: 0.3, max: 6 },
  nozzleMm: { min: 0.1, max: 1.2 },
  massG: { min: 1, max: 1000 },
  overS: { min: 2, max: 600 },
  /** Discharge coefficient of a short bore [–]. */
  cd: 0.65,
} as const

/** Ways whose rate is set by a pressure and a bore. */
export const BY_PRESSURE: readonly MethodId[] = ['canister']
/** Ways that a vacuum draws through a bore and a head of liquid lifts. */
const BY_VACUUM: readonly MethodId[] = ['gravity-bleed', 'drip-line']
/** Head of a bottle hung above its port: 0.6 m [kPa]. */
const HEAD_KPA = 5

const LIQUID_KG_M3 = 800

/**
 * Liquid through a bore, q = Cd·A·√(2·Δp/ρ) [mL/s]; 800 kg/m³, Cd 0.65. 3 bar and 0.3 mm: 1.26 mL/s.
 * @param deltaKpa - pressure across the bore; none or less lets nothing through
 */
export function boreMlS(deltaKpa: number, boreMm: number): number {
  const areaM2 = (Math.PI / 4) * (boreMm * 1e-3) ** 2
  return FEED_EQUIPMENT.cd * areaM2 * Math.sqrt((2 * Math.max(0, deltaKpa) * 1000) / LIQUID_KG_M3) * 1e6
}

/** How fast equipment feeds, and how fast it goes on feeding when nobody pushes. */
export interface EquipmentRate {
  readonly rateMlS: number
  /** What the manifold's vacuum alone draws at regulator zero [mL/s]: least that the way can be set to. */
  readonly leastMlS: number
}

/**
 * Rate of a way from its equipment: a canister by gauge plus manifold vacuum, a bottle or a line by vacuum and head, a can by
 * mass and time; else what the method is known to pass.
 * @param vacuumKpa - manifold vacuum at the feed point; 0 ahead of the plate
 */
export function equipmentRate(method: MethodId, e: FeedEquipment | undefined, vacuumKpa: number): EquipmentRate {
  const { rateMlS } = methodInfo(method)
  if (e?.nozzleMm !== undefined && e.pressureBar !== undefined && BY_PRESSURE.includes(method))
    return {
      rateMlS: boreMlS(100 * e.pressureBar + vacuumKpa, e.nozzleMm),
      leastMlS: boreMlS(vacuumKpa, e.nozzleMm),
    }
  if (e?.nozzleMm !== undefined && BY_VACUUM.includes(method))
    return { rateMlS: boreMlS(vacuumKpa + HEAD_KPA, e.nozzleMm), leastMlS: 0 }
  if (e?.massG !== undefined && e.overS !== undefined)
    return { rateMlS: e.massG / e.overS / (LIQUID_KG_M3 / 1000), leastMlS: 0 }
  return { rateMlS, leastMlS: 0 }
}

/** Regulator pressure that gives a rate [bar]; undefined where the vacuum alone gives more. */
export function pressureFor(rateMlS: number, nozzleMm: number, vacuumKpa: number): number | undefined {
  const bar = ((rateMlS / boreMlS(1, nozzleMm)) ** 2 - vacuumKpa) / 100
  return bar > 0 ? bar : undefined
}
