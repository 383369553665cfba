import type { EChartsCoreOption } from 'echarts/core'
import { useCallback, useMemo } from 'react'
import type { OperatingPoint } from '@uvula/core'
import { Chart } from './Chart.js'
import { scaleAxis } from './base.js'
import type { ChartTokens } from './tokens.js'

/** Point kinds that are drawn. */
const DRAWN = ['idle', 'idle-load', 'hold', 'cruise', 'cold'] as const

interface Mark {
  readonly kind: string
  readonly bank: 1 | 2
  readonly x: number
  readonly trim: number
}

/** What trims are drawn against: its name with its unit, how far it reaches at least, and by what its scale steps where figures are long. */
const AGAINST: Readonly<Record<'maf_gs' | 'load_pct' | 'rpm', { name: string; reach: number; step?: number }>> = {
  maf_gs: { name: 'airflow, g/s', reach: 4 },
  load_pct: { name: 'load, %', reach: 30 },
  rpm: { name: 'speed, rpm', reach: 3000, step: 1000 },
}
type Against = keyof typeof AGAINST

/** Trims of a list of points over what they are drawn against: airflow where every one has it, else load, else the speed. */
export function trimMarks(points: readonly OperatingPoint[]): {
  readonly against: Against
  readonly marks: readonly Mark[]
} {
  const list = points.filter(
    (p) => (DRAWN as readonly string[]).includes(p.kind) && (p.means.trim1_pct ?? p.means.trim2_pct) !== undefined,
  )
  const all = (id: Against): boolean => list.every((p) => p.means[id] !== undefined)
  const against = all('maf_gs') ? 'maf_gs' : all('load_pct') ? 'load_pct' : 'rpm'
  const marks = list.flatMap((p) =>
    ([1, 2] as const).flatMap((bank): Mark[] => {
      const trim = p.means[`trim${bank}_pct`]
      return trim === undefined ? [] : [{ kind: p.kind, bank, x: against === 'rpm' ? p.rpm : p.means[against]!, trim }]
    }),
  )
  return { against, marks }
}

/**
 * Total trim over airflow: a leak fades with flow, a sensor or fuel fault does not. `curve` draws what one leak would do;
 * `where` says at which points trims are typed, as long as there are none.
 */
export function TrimChart({
  points,
  curve,
  where = 'at idle and at 2500',
}: {
  points: readonly OperatingPoint[]
  curve?: (gs: number) => number
  where?: string
}) {
  const { against, marks } = useMemo(() => trimMarks(points), [points])
  const option = useCallback((t: ChartTokens) => trimOption(t, marks, against, curve), [marks, against, curve])
  if (!marks.length)
    return (
      <p className="max-w-340 border-l-6 border-l-line py-8 pl-12">
        No trims yet. Type short and long trim {where}, or drop a recording.
      </p>
    )
  return (
    <Chart
      label={`total trim: ${marks.map((m) => `${m.trim.toFixed(1)} % at ${m.kind}, bank ${m.bank}`).join('; ')}`}
      className="h-270 w-full max-w-440"
      calm
      option={option}
      table={{
        head: ['point', 'bank', AGAINST[against].name, 'total trim, %'],
        rows: marks.map((m) => [m.kind, m.bank, m.x, m.trim]),
      }}
    />
  )
}

/** Trims are good within this [%]. */
const GOOD = 5

function trimOption(
  t: ChartTokens,
  marks: readonly Mark[],
  against: Against,
  curve: ((gs: number) => number) | undefined,
): EChartsCoreOption {
  const { name, reach, step: by = 1 } = AGAINST[against]
  const xMax = by * Math.ceil((Math.max(reach, ...marks.map((m) => m.x)) * 1.15) / by)
  const [low, high] = [Math.min(-10, ...marks.map((m) => m.trim - 3)), Math.max(15, ...marks.map((m) => m.trim + 3))]
  // its ends fall on figures of the scale, so that none stands over another
  const step = high - low > 60 ? 20 : high - low > 35 ? 10 : 5
  const [yMin, yMax] = [Math.floor(low / step) * step, Math.ceil(high / step) * step]
  const line =
    curve && against === 'maf_gs'
      ? Array.from({ length: 80 }, (_, i) => ((i + 2) / 81) * xMax)
          .map((x): [number, number] => [x, curve(x)])
          .filter(([, y]) => y <= yMax && y >= yMin)
      : []
  return {
    grid: { left: 46, right: 50, top: 34, bottom: 54 },
    xAxis: { ...scaleAxis(t, 'x', { name, min: 0, max: xMax }), ...(by > 1 ? { interval: by } : {}) },
    yAxis: scaleAxis(t, 'y', { name: 'trim, %; shaded: good', min: yMin, max: yMax }),
    series: [
      {
        type: 'line',
        data: line,
        symbol: 'none',
        silent: true,
        lineStyle: { color: t.ink, width: 2.5 },
        markArea: {
          silent: true,
          itemStyle: { color: t.air },
          data: [[{ yAxis: -GOOD }, { yAxis: GOOD }]],
        },
        markLine: {
          silent: true,
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: t.ink, width: 1, type: 'solid' },
          data: [{ yAxis: 0 }],
        },
      },
      ...([1, 2] as const).map((bank) => ({
        type: 'scatter',
        z: 5,
        name: `bank ${bank}`,
        symbol: bank === 1 ? 'diamond' : 'rect',
        symbolSize: bank === 1 ? 17 : 12,
        itemStyle: { color: t.face, borderColor: t.ink, borderWidth: 2.5 },
        data: marks.filter((m) => m.bank === bank).map((m) => ({ value: [m.x, m.trim], name: m.kind })),
        tooltip: {
          formatter: (p: { name: string; value: number[] }) =>
            `${p.name}, bank ${bank}: ${p.value[1].toFixed(1)} % at ${p.value[0].toFixed(1)}`,
        },
      })),
    ],
  }
}
