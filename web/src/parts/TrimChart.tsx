import type { OperatingPoint } from '@uvula/core'
import { useFormat } from '../words/format.js'
import './chart.css'

const W = 330
const H = 250
const PAD = { left: 44, right: 12, top: 14, bottom: 42 } as const

/** Point kinds and the sign each is drawn with. */
const DRAWN = ['idle', 'idle-load', 'hold', 'cruise', 'cold'] as const

/** Total trim over airflow: a leak fades with flow, a sensor or fuel fault does not. `curve` draws what one leak would do. */
export function TrimChart({ points, curve }: { points: readonly OperatingPoint[]; curve?: (gs: number) => number }) {
  const format = useFormat()
  const list = points
    .filter((p) => (DRAWN as readonly string[]).includes(p.kind))
    .map((p) => ({
      p,
      x: p.means.maf_gs ?? p.means.load_pct ?? p.rpm / 100,
      trims: [p.means.trim1_pct, p.means.trim2_pct].filter((t): t is number => t !== undefined),
    }))
    .filter((d) => d.trims.length)
  if (!list.length)
    return (
      <p className="chart-empty">No trims yet. Type short and long trim at idle and at 2500, or drop a recording.</p>
    )
  const byFlow = list.every((d) => d.p.means.maf_gs !== undefined)
  const xMax = Math.max(byFlow ? 4 : 30, ...list.map((d) => d.x)) * 1.15
  const all = list.flatMap((d) => d.trims)
  const yMax = Math.max(12, Math.ceil((Math.max(...all) + 3) / 5) * 5)
  const yMin = Math.min(-8, Math.floor((Math.min(...all) - 3) / 5) * 5)
  const X = (v: number): number => PAD.left + (v / xMax) * (W - PAD.left - PAD.right)
  const Y = (v: number): number => PAD.top + ((yMax - v) / (yMax - yMin)) * (H - PAD.top - PAD.bottom)
  const yTicks = range(yMin, yMax, yMax - yMin > 40 ? 10 : 5)
  const xTicks = range(0, xMax, niceStep(xMax))
  const path = curve
    ? Array.from({ length: 60 }, (_, i) => ((i + 3) / 62) * xMax)
        .map((gs) => [X(gs), Y(curve(gs))] as const)
        .filter(([, y]) => y >= PAD.top)
        .map(([x, y], i) => `${i ? 'L' : 'M'} ${x.toFixed(1)} ${y.toFixed(1)}`)
        .join(' ')
    : undefined
  return (
    <svg
      className="chart"
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`total trim: ${list.map((d) => `${format('ratio', d.trims[0])} at ${d.p.kind}`).join(', ')}`}
    >
      <rect x={PAD.left} y={Y(5)} width={W - PAD.left - PAD.right} height={Y(-5) - Y(5)} className="chart-band" />
      {yTicks.map((t) => (
        <g key={t}>
          <line x1={PAD.left - 8} x2={PAD.left} y1={Y(t)} y2={Y(t)} className="chart-tick" />
          <text x={PAD.left - 12} y={Y(t) + 5} textAnchor="end">
            {t < 0 ? `−${-t}` : t}
          </text>
        </g>
      ))}
      <line x1={PAD.left} x2={W - PAD.right} y1={Y(0)} y2={Y(0)} className="chart-axis" />
      {xTicks.map((t) => (
        <g key={t}>
          <line x1={X(t)} x2={X(t)} y1={H - PAD.bottom} y2={H - PAD.bottom + 8} className="chart-tick" />
          <text x={X(t)} y={H - PAD.bottom + 25} textAnchor="middle">
            {t}
          </text>
        </g>
      ))}
      <line x1={PAD.left} x2={W - PAD.right} y1={H - PAD.bottom} y2={H - PAD.bottom} className="chart-tick" />
      <text x={W - PAD.right} y={H - 4} textAnchor="end" className="chart-unit">
        {byFlow ? 'airflow, g/s' : 'load, %'}
      </text>
      <text x={PAD.left + 4} y={PAD.top + 4} className="chart-unit">
        trim, %
      </text>
      {path && <path d={path} className="chart-line" />}
      {list.flatMap((d, i) =>
        d.trims.map((t, b) => (
          <path key={`${i}${b}`} d={b === 0 ? diamond(X(d.x), Y(t)) : square(X(d.x), Y(t))} className="chart-mark">
            <title>{`${d.p.kind}, bank ${b + 1}: ${t.toFixed(1)} %`}</title>
          </path>
        )),
      )}
    </svg>
  )
}

const diamond = (x: number, y: number): string => `M ${x} ${y - 8} L ${x + 8} ${y} L ${x} ${y + 8} L ${x - 8} ${y} Z`
const square = (x: number, y: number): string => `M ${x - 5} ${y - 5} h 10 v 10 h -10 Z`

function range(from: number, to: number, by: number): number[] {
  const out: number[] = []
  for (let x = Math.ceil(from / by) * by; x <= to + 1e-9; x += by) out.push(Number(x.toFixed(6)))
  return out
}

function niceStep(max: number): number {
  const rough = max / 5
  const power = 10 ** Math.floor(Math.log10(rough))
  return [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough)!
}
