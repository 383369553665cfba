import {
  normalFrom,
  readChannels,
  seededRandom,
  type Controller,
  type FreezeFrame,
  type SimulatedEngine,
} from '@uvula/core'

/** Begins with a zero, as no maker's number does. */
const VIN = '0UVULASTAND000001'
/** Above this no controller clears its codes [rev/min]: it does so with the engine off or idling. */
const CLEAR_BELOW_RPM = 1400

/** What the frame keeps, as channels. */
const frameValues = (f: FreezeFrame): Controller['values'] => ({
  rpm: f.rpm,
  speed_kph: f.speedKph,
  load_pct: f.loadPct,
  ect_c: f.coolantC,
  stft1_pct: f.stft1Pct,
  ltft1_pct: f.ltft1Pct,
  stft2_pct: f.stft2Pct,
  ltft2_pct: f.ltft2Pct,
  map_kpa: f.mapKpa,
  maf_gs: f.mafGs,
  throttle_pct: f.throttlePct,
})

/** The simulated engine as a controller that can be asked. Noise goes by the seed. */
export function carController(e: SimulatedEngine, seed: number): Controller {
  const noise = normalFrom(seededRandom(seed ^ 0x5f3759df))
  const values = (): Controller['values'] => {
    const { time_s: _, idle_valve_pct: __, ...row } = readChannels(e, noise)
    const lambdas =
      row.stft1_pct === undefined
        ? {}
        : { lambda1: e.mixture.seen[0], ...(row.stft2_pct === undefined ? {} : { lambda2: e.mixture.seen[1] }) }
    return { ...row, ...lambdas, run_time_s: e.running ? Math.min(65_535, e.runTimeS) : 0 }
  }
  const m = e.monitors
  return {
    get values() {
      return values()
    },
    get monitors() {
      return {
        lamp: m.lamp,
        codes: m.confirmed.size,
        compressionIgnition: e.vehicle.fuel === 'diesel',
        monitors: m.fitted.map((id) => ({ id, complete: m.isComplete(id) })),
      }
    },
    get stored() {
      return [...m.confirmed].sort()
    },
    get pending() {
      return [...m.pending].sort()
    },
    get permanent() {
      return [...m.permanent].sort()
    },
    get frame() {
      const f = m.freezeFrame
      if (!f) return undefined
      const now = values()
      const all = frameValues(f)
      const kept = Object.entries(all).filter(([id]) => now[id as keyof typeof now] !== undefined)
      return { code: f.code, values: Object.fromEntries(kept) }
    },
    vin: VIN,
    clear: () => {
      if (e.rpm > CLEAR_BELOW_RPM) return false
      m.clear()
      e.mixture.reset()
      return true
    },
  }
}
