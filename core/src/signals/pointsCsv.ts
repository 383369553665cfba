import Papa from 'papaparse'
import { CHANNELS } from './channels.js'
import type { OperatingPoint } from './point.js'

/**
 * The points as a table, a row each, means and then standard deviations in canonical units; cells that a
 * spreadsheet would run cannot occur, since all but the kind are numbers.
 */
export function pointsCsv(points: readonly OperatingPoint[]): string {
  const ids = [...CHANNELS.map((c) => c.id), 'trim1_pct', 'trim2_pct'] as const
  const used = ids.filter((id) => id !== 'time_s' && points.some((p) => p.means[id] !== undefined))
  const number = (x: number | undefined): string => (x === undefined ? '' : String(Number(x.toPrecision(6))))
  return `${Papa.unparse({
    fields: ['kind', 'start_s', 'end_s', 'rows', ...used, ...used.map((id) => `${id}_sd`)],
    data: points.map((p) => [
      p.kind,
      number(p.startS),
      number(p.endS),
      p.n,
      ...used.map((id) => number(p.means[id])),
      ...used.map((id) => number(p.sds[id])),
    ]),
  })}\r\n`
}
