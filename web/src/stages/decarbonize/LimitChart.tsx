import { useCallback } from 'react'
import { FEED, mixtureLimitGS, type FeedPlan } from '@uvula/core'
import { Chart } from '../../charts/Chart.js'
import { scaleAxis } from '../../charts/base.js'
import type { ChartTokens } from '../../charts/tokens.js'

/** Limits over airflow, ten seconds and one, and where the plan stands. */
export function LimitChart({ airGS, plan, rho, afr }: { airGS: number; plan?: FeedPlan; rho: number; afr: number }) {
  const xMax = Math.ceil(Math.max(12, airGS * 1.5))
  const ten = mixtureLimitGS(xMax, afr, FEED.lambdaMin, rho)
  const one = mixtureLimitGS(xMax, afr, FEED.lambdaSecond, 1)
  const planned = plan?.tenSecondGS
  const option = useCallback(
    (t: ChartTokens) => ({
      grid: { left: 56, right: 56, top: 34, bottom: 54 },
      xAxis: scaleAxis(t, 'x', { name: 'airflow, g/s', min: 0, max: xMax }),
      yAxis: scaleAxis(t, 'y', { name: 'feed, g/s', min: 0, max: Number((one * 1.1).toPrecision(2)) }),
      series: [
        {
          type: 'line',
          data: [
            [0, 0],
            [xMax, ten],
          ],
          symbol: 'none',
          silent: true,
          lineStyle: { color: t.ink, width: 2.5 },
          areaStyle: { color: t.air, opacity: 1 },
          endLabel: { show: true, formatter: '10 s', color: t.ink, fontFamily: t.word, fontSize: 16 },
        },
        {
          type: 'line',
          data: [
            [0, 0],
            [xMax, one],
          ],
          symbol: 'none',
          silent: true,
          lineStyle: { color: t.ink, width: 2.5, type: [8, 6] },
          endLabel: { show: true, formatter: '1 s', color: t.ink, fontFamily: t.word, fontSize: 16 },
        },
        ...(planned === undefined
          ? []
          : [
              {
                type: 'line',
                silent: true,
                symbol: 'none',
                lineStyle: { color: t.ink, width: 2.5 },
                data: [
                  [airGS, 0],
                  [airGS, planned],
                ],
              },
              {
                type: 'scatter',
                // over the limits, which lines draw above points otherwise
                z: 5,
                symbol: 'diamond',
                symbolSize: 18,
                itemStyle: { color: t.face, borderColor: t.ink, borderWidth: 2.5 },
                data: [[airGS, planned]],
                label: {
                  show: true,
                  position: 'left',
                  formatter: `${planned.toFixed(2)} g/s`,
                  color: t.ink,
                  fontFamily: t.fig,
                  fontSize: 20,
                },
                tooltip: { formatter: () => `the plan: ${planned.toFixed(3)} g/s at ${airGS.toFixed(1)} g/s of air` },
              },
            ]),
      ],
    }),
    [airGS, one, planned, ten, xMax],
  )
  return (
    <Chart
      label={`feed rate against its limits${planned === undefined ? '' : `: ${planned.toFixed(2)} g/s planned`}`}
      className="h-250 w-full max-w-560"
      option={option}
      table={{
        head: ['airflow, g/s', 'over ten seconds, g/s', 'over one second, g/s'],
        rows: [0.25, 0.5, 0.75, 1].map((k) => [xMax * k, ten * k, one * k]),
      }}
    />
  )
}
