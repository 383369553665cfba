import { hasMaf, hasMap, type Vehicle, trimBanksOf } from '../engine/index.js'
import type { EngineView } from './view.js'

/** Monitors of J1979 whose completion an inspection looks at. The first three run all the time. */
export const MONITORS = ['misfire', 'fuel', 'components', 'catalyst', 'evaporative', 'oxygen-sensor', 'egr'] as const
export type MonitorId = (typeof MONITORS)[number]

interface CodeRow {
  readonly code: string
  readonly monitor: MonitorId
  /** How long the condition must stand [s]. */
  readonly holdS: number
  readonly applies: (v: Vehicle) => boolean
  /** undefined: the monitor cannot judge now. */
  readonly fails: (e: EngineView) => boolean | undefined
}

const warm = (e: EngineView): boolean => e.running && e.coolantC > 70 && e.runTimeS > 30
const trimmed = (v: Vehicle): boolean => v.fuel === 'gasoline' && v.metering !== 'none'
const total = (e: EngineView, bank: 0 | 1): number => e.mixture.total(bank, e.cell)
const idling = (e: EngineView): boolean => warm(e) && e.controls.mode === 'idle' && e.kph < 2
const misfires = (e: EngineView, cylinder: number): boolean =>
  e.faults.misfireCylinder === cylinder && e.faults.misfireShare > 0.02

/** Standard code numbers of J2012 and when this controller sets them; thresholds are ours, ordinary. */
const CODES: readonly CodeRow[] = [
  ...([0, 1] as const).flatMap((bank): CodeRow[] => [
    {
      code: bank ? 'P0174' : 'P0171',
      monitor: 'fuel',
      holdS: 15,
      applies: (v) => trimmed(v) && bank < trimBanksOf(v),
      fails: (e) => (e.closedLoop && warm(e) ? total(e, bank) > 0.22 : undefined),
    },
    {
      code: bank ? 'P0175' : 'P0172',
      monitor: 'fuel',
      holdS: 15,
      applies: (v) => trimmed(v) && bank < trimBanksOf(v),
      fails: (e) => (e.closedLoop && warm(e) ? total(e, bank) < -0.22 : undefined),
    },
  ]),
  {
    code: 'P0101',
    monitor: 'components',
    holdS: 8,
    applies: hasMaf,
    // judged against what the engine swallows at its pressure, as controllers with both sensors do, or its size
    fails: (e) => {
      if (!warm(e) || e.rpm < 1200 || e.flowShare < 0.1) return undefined
      return Math.abs(e.mafRead / Math.max(1e-6, e.meteredKgS) - 1) > 0.22 || e.faults.narrowed > 0.6
    },
  },
  {
    code: 'P0106',
    monitor: 'components',
    holdS: 4,
    applies: hasMap,
    fails: (e) => (e.running ? Math.abs(e.faults.mapOffsetPa) > 6500 || e.faults.mapLagS > 0.4 : undefined),
  },
  {
    code: 'P0113',
    monitor: 'components',
    holdS: 2,
    applies: () => true,
    fails: (e) => e.faults.iatOpen,
  },
  { code: 'P0118', monitor: 'components', holdS: 2, applies: () => true, fails: (e) => e.faults.ectOpen },
  {
    code: 'P0236',
    monitor: 'components',
    holdS: 3,
    applies: (v) => v.chargeSensor === true,
    fails: (e) => (e.running ? undefined : Math.abs(e.faults.chargeOffsetPa) > 9000),
  },
  {
    code: 'P0299',
    monitor: 'components',
    holdS: 2,
    applies: (v) => v.induction === 'turbo',
    fails: (e) =>
      e.controls.mode === 'wide' && e.flowShare > 0.35
        ? e.chargePa - e.surroundings.ambientPa < 0.5 * e.character.boostPa
        : undefined,
  },
  {
    code: 'P0401',
    monitor: 'egr',
    holdS: 4,
    applies: (v) => v.egr === 'valve',
    fails: (e) => (e.egrCommand > 0.8 ? e.faults.egrMissing > 0.4 || e.faults.narrowed > 0.7 : undefined),
  },
  {
    code: 'P0402',
    monitor: 'egr',
    holdS: 6,
    applies: (v) => v.egr === 'valve',
    fails: (e) => (idling(e) ? e.faults.egrMm2 > 2.5 : undefined),
  },
  {
    code: 'P0506',
    monitor: 'components',
    holdS: 12,
    applies: (v) => v.idleControl !== 'none' && v.fuel === 'gasoline',
    fails: (e) => (idling(e) ? e.rpm < e.idleTargetRpm - 100 : undefined),
  },
  {
    code: 'P0507',
    monitor: 'components',
    holdS: 12,
    applies: (v) => v.idleControl !== 'none' && v.fuel === 'gasoline',
    fails: (e) => (idling(e) ? e.rpm > e.idleTargetRpm + 180 : undefined),
  },
  {
    code: 'P0441',
    monitor: 'evaporative',
    holdS: 20,
    applies: (v) => v.purge !== false && trimmed(v),
    fails: (e) => (idling(e) && e.purgeCommand === 0 ? e.faults.purgeMm2 > 1 : undefined),
  },
  ...Array.from({ length: 8 }, (_, i): CodeRow => ({
    code: `P030${i + 1}`,
    monitor: 'misfire',
    holdS: 10,
    applies: (v) => v.fuel === 'gasoline' && v.cylinders > i,
    fails: (e) => (e.running ? misfires(e, i + 1) : undefined),
  })),
  {
    code: 'P0016',
    monitor: 'components',
    holdS: 5,
    applies: () => true,
    fails: (e) => (e.running ? e.faults.timingLateDeg > 12 : undefined),
  },
  {
    code: 'P0420',
    monitor: 'catalyst',
    holdS: 30,
    applies: trimmed,
    fails: (e) => (e.kph > 50 ? e.faults.exhaustLeak > 0.3 : undefined),
  },
]

/** How long each monitor must have seen its conditions before it is complete [s]. */
const NEEDS_S: Readonly<Record<MonitorId, number>> = {
  misfire: 0,
  fuel: 0,
  components: 0,
  catalyst: 150,
  evaporative: 600,
  'oxygen-sensor': 60,
  egr: 20,
}

const condition = (id: MonitorId, e: EngineView): boolean =>
  id === 'evaporative'
    ? warm(e)
    : id === 'egr'
      ? warm(e) && e.egrCommand > 0.5
      : warm(e) && e.kph > 45 && e.controls.mode === 'road'

/** Readings kept at the moment a code was first seen; canonical units. */
export interface FreezeFrame {
  readonly code: string
  readonly rpm: number
  readonly speedKph: number
  readonly loadPct: number
  readonly coolantC: number
  readonly stft1Pct: number
  readonly ltft1Pct: number
  readonly stft2Pct: number
  readonly ltft2Pct: number
  readonly mapKpa: number
  readonly mafGs: number
  readonly throttlePct: number
}

/** Codes and readiness of the controller: pending on the first trip that fails, confirmed on the second. */
export class Monitors {
  readonly pending = new Set<string>()
  readonly confirmed = new Set<string>()
  readonly permanent = new Set<string>()
  freezeFrame: FreezeFrame | undefined
  warmUps = 40
  private readonly rows: readonly CodeRow[]
  private readonly heldS = new Map<string, number>()
  private readonly failedNow = new Set<string>()
  private readonly passedS = new Map<string, number>()
  private readonly seenS = new Map<MonitorId, number>()
  private sinceS = 0

  constructor(private readonly v: Vehicle) {
    this.rows = CODES.filter((r) => r.applies(v))
    for (const id of MONITORS) this.seenS.set(id, NEEDS_S[id])
  }

  /** Monitors this vehicle has. */
  get fitted(): readonly MonitorId[] {
    const gasoline = trimmed(this.v)
    return MONITORS.filter(
      (id) =>
        (gasoline || !['catalyst', 'evaporative', 'oxygen-sensor', 'fuel'].includes(id)) &&
        (id !== 'egr' || this.v.egr === 'valve') &&
        (id !== 'evaporative' || this.v.purge !== false),
    )
  }

  isComplete(id: MonitorId): boolean {
    return (this.seenS.get(id) ?? 0) >= NEEDS_S[id]
  }

  /** True when the lamp is lit. */
  get lamp(): boolean {
    return this.confirmed.size > 0
  }

  /** A new trip: what failed on the last one and was pending is confirmed when it fails again. */
  started(e: EngineView): void {
    for (const code of [...this.pending]) if (!this.failedNow.has(code)) this.pending.delete(code)
    this.failedNow.clear()
    this.heldS.clear()
    if (e.coolantC > 70) this.warmUps++
  }

  /** What failed while an engine was still being settled in does not count. */
  forget(): void {
    this.pending.clear()
    this.failedNow.clear()
    this.heldS.clear()
    this.freezeFrame = undefined
  }

  /** As after days on the road: what is pending has failed twice. */
  age(): void {
    for (const code of this.pending) {
      this.confirmed.add(code)
      this.permanent.add(code)
    }
  }

  /** Clears what a tool can clear: permanent codes stay until their monitor has passed. */
  clear(): void {
    this.pending.clear()
    this.confirmed.clear()
    this.failedNow.clear()
    this.heldS.clear()
    this.freezeFrame = undefined
    this.warmUps = 0
    for (const id of MONITORS) this.seenS.set(id, 0)
  }

  step(e: EngineView, dt: number): void {
    // once a second is often enough, and cheap
    this.sinceS += dt
    if (this.sinceS < 1) return
    const elapsed = this.sinceS
    this.sinceS = 0
    for (const id of MONITORS)
      if (!this.isComplete(id) && condition(id, e)) this.seenS.set(id, (this.seenS.get(id) ?? 0) + elapsed)
    for (const row of this.rows) {
      const fails = row.fails(e)
      if (fails === undefined) continue
      if (!fails) {
        this.heldS.set(row.code, 0)
        const passed = (this.passedS.get(row.code) ?? 0) + elapsed
        this.passedS.set(row.code, passed)
        if (passed > 120 && !this.failedNow.has(row.code)) this.permanent.delete(row.code)
        continue
      }
      this.passedS.set(row.code, 0)
      const held = (this.heldS.get(row.code) ?? 0) + elapsed
      this.heldS.set(row.code, held)
      if (held < row.holdS || this.failedNow.has(row.code)) continue
      this.failedNow.add(row.code)
      if (this.pending.has(row.code)) {
        this.confirmed.add(row.code)
        this.permanent.add(row.code)
      } else this.pending.add(row.code)
      this.freezeFrame ??= frameOf(row.code, e)
    }
  }
}

function frameOf(code: string, e: EngineView): FreezeFrame {
  const m = e.mixture
  return {
    code,
    rpm: e.rpm,
    speedKph: e.kph,
    loadPct: 100 * e.load,
    coolantC: e.faults.ectOpen ? -40 : e.coolantC,
    stft1Pct: 100 * m.stft[0],
    ltft1Pct: 100 * m.ltft[0][e.cell],
    stft2Pct: 100 * m.stft[1],
    ltft2Pct: 100 * m.ltft[1][e.cell],
    mapKpa: e.mapRead / 1000,
    mafGs: e.mafRead * 1000,
    throttlePct: 100 * e.plate,
  }
}
