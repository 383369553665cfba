import { useCallback, useMemo } from 'react'
import { firstMinutesOf, type Vehicle } from '@uvula/core'
import { Chart } from '../../charts/Chart.js'
import { scaleAxis } from '../../charts/base.js'
import type { ChartTokens } from '../../charts/tokens.js'

const MINUTES = 10

/** What to expect after key-on, each as a bar over its minutes. */
export function FirstMinutes({ vehicle }: { vehicle: Vehicle }) {
  const minutes = useMemo(() => firstMinutesOf(vehicle), [vehicle])
  const option = useCallback(
    (t: ChartTokens) => ({
      grid: { left: 14, right: 14, top: 44, bottom: 54 },
      xAxis: scaleAxis(t, 'x', { name: 'minutes from key-on', min: 0, max: MINUTES }),
      yAxis: {
        type: 'category',
        inverse: true,
        show: false,
        data: minutes.map((m) => m.say),
      },
      series: [
        {
          type: 'bar',
          stack: 'time',
          silent: true,
          barWidth: 12,
          itemStyle: { color: 'transparent' },
          data: minutes.map((m) => m.from),
        },
        {
          type: 'bar',
          stack: 'time',
          silent: true,
          barWidth: 12,
          itemStyle: { color: t.air, borderColor: t.ink, borderWidth: 1.5 },
          data: minutes.map((m) => Math.max(0.1, m.to - m.from)),
          label: {
            show: true,
            // words over their bar; a late bar's end there, so that they stay on the chart
            position: 'insideLeft',
            offset: [-4, -20],
            formatter: ({ dataIndex }: { dataIndex: number }) =>
              minutes[dataIndex].from > MINUTES / 2 ? '' : minutes[dataIndex].say,
            color: t.ink,
            fontFamily: t.word,
            fontSize: 16,
          },
        },
        {
          type: 'bar',
          stack: 'time',
          silent: true,
          barWidth: 12,
          itemStyle: { color: 'transparent' },
          data: minutes.map((m) => MINUTES - Math.max(m.from + 0.1, m.to)),
          label: {
            show: true,
            position: 'insideRight',
            offset: [4, -20],
            formatter: ({ dataIndex }: { dataIndex: number }) =>
              minutes[dataIndex].from > MINUTES / 2 ? minutes[dataIndex].say : '',
            color: t.ink,
            fontFamily: t.word,
            fontSize: 16,
          },
        },
      ],
    }),
    [minutes],
  )
  return (
    <Chart
      label="what to expect, minute by minute"
      className="h-340 w-full max-w-560"
      option={option}
      table={{
        head: ['from, min', 'to, min', 'expect'],
        rows: minutes.map((m) => [m.from, m.to, m.say]),
      }}
    />
  )
}
