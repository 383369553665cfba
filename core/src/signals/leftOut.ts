import { STEADY, type OperatingPoint } from './point.js'
import type { ChannelId } from './channels.js'
import type { Recording } from './recording.js'

/** Why a stretch is no point. */
export type LeftOutReason = 'gap' | 'engine-off' | 'cold' | 'open-loop' | 'purge' | 'rolling' | 'unsteady'

/** A stretch between points, and what spoke against it. */
export interface LeftOut {
  readonly startS: number
  readonly endS: number
  readonly reason: LeftOutReason
}

const STANDS_RPM = 250
const PURGE_PCT = 5
const ROLLING_KPH = { least: 2, most: 30 } as const
/** Shorter ones say nothing by themselves [s]. */
const SHORTEST_S = 1.5

/** The stretches that no point covers, in order; what is not otherwise explained moved, or was too short to settle. */
export function leftOut(recording: Recording, points: readonly OperatingPoint[]): LeftOut[] {
  const { columns: c, rows } = recording
  const t = c.time_s
  if (!t || rows < 2) return []
  const last = new Map<ChannelId, number>()
  /** Channels polled in turn: what was read last stands. */
  const at = (id: ChannelId, i: number): number | undefined => {
    const x = c[id]?.[i]
    if (x !== undefined && !Number.isNaN(x)) last.set(id, x)
    return last.get(id)
  }
  const out: { startS: number; endS: number; reason: LeftOutReason }[] = []
  for (let i = 0; i < rows; i++) {
    const reason = reasonAt(i, at)
    if (i > 0 && t[i] - t[i - 1] > STEADY.gapS) put(t[i - 1], t[i], 'gap')
    if (points.some((p) => t[i] >= p.startS && t[i] <= p.endS)) continue
    put(t[i], i + 1 < rows && t[i + 1] - t[i] <= STEADY.gapS ? t[i + 1] : t[i], reason)
  }
  return out.filter((s) => s.endS - s.startS >= SHORTEST_S)

  function put(startS: number, endS: number, reason: LeftOutReason): void {
    const before = out.at(-1)
    if (before?.reason === reason && startS - before.endS < 1e-6) before.endS = endS
    else out.push({ startS, endS, reason })
  }
}

function reasonAt(i: number, at: (id: ChannelId, i: number) => number | undefined): LeftOutReason {
  const [rpm, kph, coolant, loop, purge] = (['rpm', 'speed_kph', 'ect_c', 'fuel_status', 'purge_pct'] as const).map(
    (id) => at(id, i),
  )
  if (rpm !== undefined && rpm < STANDS_RPM) return 'engine-off'
  if (coolant !== undefined && coolant < STEADY.warmC) return 'cold'
  if (loop !== undefined && loop < 0.5) return 'open-loop'
  if (purge !== undefined && purge > PURGE_PCT) return 'purge'
  if (kph !== undefined && kph > ROLLING_KPH.least && kph < ROLLING_KPH.most) return 'rolling'
  return 'unsteady'
}
