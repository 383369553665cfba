import { expectedAt } from '../expectation/index.js'
import { hasMaf, trimBanksOf } from '../engine/index.js'
import { trimBand } from '../proof/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { vehicleAtPlace } from './place.js'
import { manifoldKpaOf, pointsOfRound } from './points.js'
import type { VisitFile } from './records.js'

/** One point of the trim sheet; percent, g/s, what nobody read is left out. */
export interface TrimRow {
  readonly kind: OperatingPoint['kind']
  readonly rpm: number
  readonly banks: readonly {
    readonly bank: 1 | 2
    readonly short?: number
    readonly long?: number
    readonly total?: number
    readonly verdict?: 'good' | 'acceptable' | 'outside'
  }[]
  readonly airGS?: number
  /** What a sound engine would draw there. */
  readonly expectedGS?: { readonly low: number; readonly high: number }
  readonly air?: 'inside' | 'low' | 'high'
}

/** Kinds whose trims are the engine's own, in the order of the sheet. */
const ON_THE_SHEET: readonly OperatingPoint['kind'][] = ['idle', 'idle-load', 'hold', 'cruise', 'cold']

/** Every point of a round with trims or airflow: both banks, short, long and total, airflow against what belongs there. */
export function trimSheet(f: VisitFile, round: number): TrimRow[] {
  const vehicle = vehicleAtPlace(f)
  const banks = trimBanksOf(vehicle) === 2 ? ([1, 2] as const) : ([1] as const)
  return pointsOfRound(f, round)
    .filter((p) => ON_THE_SHEET.includes(p.kind))
    .sort((a, b) => ON_THE_SHEET.indexOf(a.kind) - ON_THE_SHEET.indexOf(b.kind) || a.rpm - b.rpm)
    .flatMap((p): TrimRow[] => {
      const m = p.means
      const read = banks.map((bank) => {
        const total = m[`trim${bank}_pct`]
        return {
          bank,
          short: m[`stft${bank}_pct`],
          long: m[`ltft${bank}_pct`],
          total,
          verdict: total === undefined ? undefined : trimBand(total),
        }
      })
      const airGS = hasMaf(vehicle) ? m.maf_gs : undefined
      if (airGS === undefined && read.every((b) => b.total === undefined)) return []
      const e =
        airGS === undefined || p.kind === 'cold'
          ? undefined
          : expectedAt({
              vehicle,
              kind: p.kind as 'idle',
              rpm: p.rpm,
              manifoldKpa: manifoldKpaOf(p),
              ambientC: f.visit.ambientC,
            })
      const expectedGS = e && { low: e.lowKgS * 1e3, high: e.highKgS * 1e3 }
      return [
        {
          kind: p.kind,
          rpm: p.rpm,
          banks: read,
          airGS,
          expectedGS,
          air: expectedGS && (airGS! < expectedGS.low ? 'low' : airGS! > expectedGS.high ? 'high' : 'inside'),
        },
      ]
    })
}

/** Two banks' trims differ by more than their reading does from here [%]; ours. */
const BANKS_DIFFER_PCT = 4

/** What a difference between the banks speaks for, in a sentence; undefined with one bank, or where they agree. */
export function bankDifference(rows: readonly TrimRow[]): string | undefined {
  const differences = rows.flatMap((r) => {
    const [a, b] = r.banks
    return a?.total !== undefined && b?.total !== undefined ? [{ row: r, by: a.total - b.total }] : []
  })
  const most = [...differences].sort((a, b) => Math.abs(b.by) - Math.abs(a.by)).at(0)
  if (!most || Math.abs(most.by) < BANKS_DIFFER_PCT) return undefined
  const leaner = most.by > 0 ? 1 : 2
  const idle = differences.find((d) => d.row.kind === 'idle')
  const held = differences.find((d) => d.row.kind === 'hold' || d.row.kind === 'cruise')
  const says = `Bank ${leaner} is given ${Math.abs(most.by).toFixed(0)} % more fuel than bank ${3 - leaner}`
  if (!idle || !held)
    return `${says}. Read both banks at idle and at a held speed: air at one bank fades with flow, fuel or a sensor does not.`
  const fades = Math.sign(idle.by) === Math.sign(most.by) && Math.abs(held.by) < 0.6 * Math.abs(idle.by)
  return fades
    ? `${says} at idle and less at speed: air that comes in at its own gasket or runner, before air that both share.`
    : `${says}, and not less with flow: fuel or oxygen sensor of one bank, a blocked exhaust, or cams that are set unlike, before air.`
}
