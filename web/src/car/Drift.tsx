import { useCallback, useMemo, useState } from 'react'
import { DRIFTS, type DriftId, type HistoryRow } from '@uvula/core'
import { Chart } from '../charts/Chart.js'
import { scaleAxis } from '../charts/base.js'
import type { ChartTokens } from '../charts/tokens.js'
import { Choose } from '../kit/Choose.js'

const MONTH_MS = 30.44 * 86_400_000

/** What drifts from visit to visit, on one time line; a cleaning is a line across it. */
export function Drift({ rows }: { rows: readonly HistoryRow[] }) {
  const known = DRIFTS.filter((d) => rows.filter((r) => r.figures[d.id] !== undefined).length > 0)
  const [chosen, setChosen] = useState<DriftId>()
  const drift = known.find((d) => d.id === chosen) ?? known.at(0)
  const first = rows.length ? Date.parse(rows[0].openedAt) : 0
  const points = useMemo(
    () =>
      drift
        ? rows.flatMap((r) => {
            const y = r.figures[drift.id]
            return y === undefined
              ? []
              : [{ x: (Date.parse(r.openedAt) - first) / MONTH_MS, y, day: r.openedAt.slice(0, 10) }]
          })
        : [],
    [rows, drift, first],
  )
  const option = useCallback(
    (t: ChartTokens) => ({
      grid: { left: 60, right: 20, top: 40, bottom: 56 },
      xAxis: scaleAxis(t, 'x', { name: 'months since its first visit', min: 0 }),
      yAxis: { ...scaleAxis(t, 'y', { name: drift ? `${drift.label}, ${drift.unit}` : '' }), scale: true },
      series: [
        {
          type: 'line',
          data: points.map((p) => [p.x, p.y]),
          symbol: 'circle',
          symbolSize: 10,
          lineStyle: { color: t.ink, width: 2 },
          itemStyle: { color: t.ink },
          markLine: {
            silent: true,
            symbol: 'none',
            lineStyle: { color: t.ink, type: 'dashed', width: 1.5 },
            label: { formatter: 'cleaned', color: t.ink, fontFamily: t.word, fontSize: 16 },
            data: rows.filter((r) => r.cleaned).map((r) => ({ xAxis: (Date.parse(r.openedAt) - first) / MONTH_MS })),
          },
        },
      ],
    }),
    [points, drift, rows, first],
  )
  if (!drift) return null
  return (
    <section aria-label="what drifts">
      <h2 className="text-small text-soft">as it came, visit by visit</h2>
      {known.length > 1 && (
        <Choose
          label="what drifts"
          look="line"
          className="flex flex-wrap gap-x-16"
          value={drift.id}
          choices={known.map((d) => ({ value: d.id, label: d.label }))}
          onChange={setChosen}
        />
      )}
      {points.length > 1 ? (
        <Chart
          label={`${drift.label} over the visits`}
          className="h-240 w-full"
          option={option}
          table={{ head: ['day', drift.unit], rows: points.map((p) => [p.day, Number(p.y.toFixed(1))]) }}
        />
      ) : (
        <p className="my-8">
          {drift.label} <b className="fig text-figure">{points[0].y.toFixed(1)}</b> {drift.unit} on {points[0].day}; a
          line needs two visits.
        </p>
      )}
    </section>
  )
}
