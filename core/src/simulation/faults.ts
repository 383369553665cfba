/** Faults that the simulated engine can carry, by their own quantities; healthy values are 0. */
export interface SimulatedFaults {
  /** Leak behind the plate, effective area at idle [mm²]. */
  leakMm2: number
  /** 1 or 2 when one bank draws most of it; 0 shared alike. */
  leakBank: 0 | 1 | 2
  /** Split between sensor and plate, effective area [mm²]. */
  ductLeakMm2: number
  /** Airflow sensor error at idle and at full flow [–]. */
  mafErrorIdle: number
  mafErrorFull: number
  /** Manifold pressure sensor offset [Pa]. */
  mapOffsetPa: number
  /** Share of closed-plate leakage and small opening shaded by deposits, 0..0.95. */
  deposits: number
  /** Fuel delivered against commanded [–], at idle and at full flow. */
  fuelErrorIdle: number
  fuelErrorFull: number
  /** EGR valve held open, effective area [mm²]. */
  egrMm2: number
}

export const HEALTHY: SimulatedFaults = {
  leakMm2: 0,
  leakBank: 0,
  ductLeakMm2: 0,
  mafErrorIdle: 0,
  mafErrorFull: 0,
  mapOffsetPa: 0,
  deposits: 0,
  fuelErrorIdle: 0,
  fuelErrorFull: 0,
  egrMm2: 0,
}

/** Keys of a fault specification: `unmetered-air:areaMm2=3,bank=2`. */
const KEYS = ['areaMm2', 'site', 'bank', 'cylinder', 'errorPct', 'errorPctHigh', 'offsetKpa', 'severity'] as const
type Key = (typeof KEYS)[number]

export type FaultSpec =
  { readonly ok: true; readonly faults: SimulatedFaults } | { readonly ok: false; readonly message: string }

/** Adds one textual fault specification to a set. Severity 0..1 picks a size where none is given. */
export function addFault(base: SimulatedFaults, spec: string): FaultSpec {
  const [id, rest = ''] = spec.split(':', 2)
  const keys = new Map<Key, string>()
  for (const part of rest.split(',').filter(Boolean)) {
    const [k, value = ''] = part.split('=', 2)
    if (!(KEYS as readonly string[]).includes(k))
      return { ok: false, message: `fault key "${k}" is not one of ${KEYS.join(', ')}` }
    keys.set(k as Key, value)
  }
  const bad = [...keys].find(([k, x]) => k !== 'site' && !Number.isFinite(Number(x)))
  if (bad) return { ok: false, message: `fault key ${bad[0]} = "${bad[1]}" is not a number` }
  const severity = Number(keys.get('severity') ?? 0.5)
  const n = (k: Key, fallback: number): number => (keys.has(k) ? Number(keys.get(k)) : fallback)
  const area = n('areaMm2', 1 + 7 * severity)
  const error = n('errorPct', -6 - 24 * severity) / 100
  const high = n('errorPctHigh', 100 * error) / 100
  const f = { ...base }
  switch (id) {
    case 'none':
      break
    case 'unmetered-air':
      if (keys.get('site') === 'duct') f.ductLeakMm2 = 20 * area
      else f.leakMm2 = area
      break
    case 'unmetered-air-bank':
      f.leakMm2 = area
      f.leakBank = n('bank', 1) === 2 ? 2 : 1
      break
    case 'unmetered-air-duct':
      f.ductLeakMm2 = n('areaMm2', 60 + 240 * severity)
      break
    case 'maf-under-reads':
    case 'maf-over-reads': {
      const sign = id === 'maf-under-reads' ? -1 : 1
      f.mafErrorIdle = sign * Math.abs(error)
      f.mafErrorFull = sign * Math.abs(high)
      break
    }
    case 'map-sensor-offset':
      f.mapOffsetPa = 1000 * n('offsetKpa', -3 - 5 * severity)
      break
    case 'throttle-deposits':
      f.deposits = Math.min(0.95, Math.max(0, severity))
      break
    case 'fuel-delivery-low':
    case 'fuel-delivery-high': {
      const sign = id === 'fuel-delivery-low' ? -1 : 1
      f.fuelErrorIdle = sign * Math.abs(error)
      f.fuelErrorFull = sign * Math.abs(high)
      break
    }
    case 'egr-open-at-idle':
      f.egrMm2 = n('areaMm2', 1.5 + 3 * severity)
      break
    default:
      return { ok: false, message: `fault "${id}" is not one the simulated engine carries yet` }
  }
  return { ok: true, faults: f }
}
