import type { ECharts, EChartsCoreOption } from 'echarts/core'
import { useEffect, useRef, useState } from 'react'
import { chartTokens, type ChartTokens } from '../charts/tokens.js'
import { useSettings } from '../store/settings.js'
import { inTurn } from './inTurn.js'

/** How much of the past a strip shows [s], and how far apart two samples may be and still be one line. */
export const STRIP_S = 60
const GAP_S = 1.5
/** Room left of a strip for its low and its high figure [px]. */
const SCALE_PX = 52

/** One channel over the last minute, on a scale with its low and high figure; a gap is a gap, a mark is a line. */
export function Strip({
  points,
  now,
  span,
  band,
  marks,
  gapS = GAP_S,
  label,
  say,
}: {
  points: readonly (readonly [t: number, y: number])[]
  now: number
  /** Least height in its own unit. */
  span: number
  band?: { readonly low: number; readonly high: number }
  marks: readonly number[]
  gapS?: number
  label: string
  /** A figure of the channel in this device's unit, without the unit. */
  say: (value: number) => string
}) {
  const box = useRef<HTMLDivElement>(null)
  const [chart, setChart] = useState<ECharts>()
  const tokens = useRef<ChartTokens>(undefined)
  const sayIt = useRef(say)
  sayIt.current = say
  const { theme } = useSettings()

  useEffect(() => {
    const el = box.current!
    let gone = false
    let drawn: ECharts | undefined
    const fit = new ResizeObserver(() => drawn?.resize())
    void import('../charts/echarts.js').then(({ init }) => {
      if (gone) return
      tokens.current = chartTokens()
      drawn = init(el, undefined, { renderer: 'canvas' })
      drawn.setOption(stripOption(tokens.current, (y) => sayIt.current(y)))
      setChart(drawn)
      fit.observe(el)
    })
    return () => {
      gone = true
      fit.disconnect()
      drawn?.dispose()
      setChart(undefined)
    }
  }, [theme])

  useEffect(() => {
    if (!chart) return
    return inTurn(chart, () => {
      if (!chart.isDisposed()) chart.setOption(rowsOption(tokens.current!, { points, now, span, band, marks, gapS }))
    })
  }, [chart, points, now, span, band, marks, gapS])

  return <div ref={box} className="h-52 min-w-0 overflow-hidden phone:col-span-full" role="img" aria-label={label} />
}

/** What stays of a strip while its rows come. */
const stripOption = (t: ChartTokens, say: (y: number) => string): EChartsCoreOption => ({
  animation: false,
  grid: { left: SCALE_PX, right: 4, top: 9, bottom: 9 },
  xAxis: { type: 'value', show: false },
  yAxis: {
    type: 'value',
    axisLine: { show: true, lineStyle: { color: t.line } },
    axisTick: { show: false },
    axisLabel: {
      color: t.ink,
      fontFamily: t.fig,
      fontWeight: 600,
      fontSize: 16,
      showMinLabel: true,
      showMaxLabel: true,
      formatter: (y: number) => say(y),
    },
    splitLine: { show: false },
  },
  series: [
    {
      type: 'line',
      silent: true,
      animation: false,
      showSymbol: false,
      connectNulls: false,
      lineStyle: { color: t.ink, width: 1.5 },
    },
  ],
})

/** The rows of a strip as one flat array, nothing where a sample is missing, and the scale they stand on. */
export function stripRows(
  points: readonly (readonly [t: number, y: number])[],
  gapS: number,
  span: number,
): { readonly rows: [number, number | null][]; readonly low: number; readonly high: number } | undefined {
  const rows: [number, number | null][] = []
  let low = Infinity
  let high = -Infinity
  let before: number | undefined
  for (const [t, y] of points) {
    if (before !== undefined && t - before > gapS) rows.push([(t + before) / 2, null])
    rows.push([t, y])
    before = t
    low = Math.min(low, y)
    high = Math.max(high, y)
  }
  if (!rows.length) return undefined
  const mid = (low + high) / 2
  const half = 0.55 * Math.max(span, high - low)
  return { rows, low: mid - half, high: mid + half }
}

function rowsOption(
  t: ChartTokens,
  {
    points,
    now,
    span,
    band,
    marks,
    gapS,
  }: {
    points: readonly (readonly [t: number, y: number])[]
    now: number
    span: number
    band?: { readonly low: number; readonly high: number }
    marks: readonly number[]
    gapS: number
  },
): EChartsCoreOption {
  const drawn = stripRows(points, gapS, span)
  const { rows, low, high } = drawn ?? { rows: [], low: 0, high: 1 }
  return {
    xAxis: { min: now - STRIP_S, max: now },
    yAxis: { min: low, max: high, interval: high - low, axisLabel: { customValues: [low, high] } },
    series: [
      {
        data: rows,
        markArea: {
          silent: true,
          itemStyle: { color: t.air },
          data: band
            ? [
                [
                  { yAxis: Math.max(low, Math.min(high, band.low)) },
                  { yAxis: Math.max(low, Math.min(high, band.high)) },
                ],
              ]
            : [],
        },
        markLine: {
          silent: true,
          symbol: 'none',
          animation: false,
          label: { show: false },
          lineStyle: { color: t.ink, width: 3, type: 'solid' },
          data: marks.filter((m) => m > now - STRIP_S).map((xAxis) => ({ xAxis })),
        },
      },
    ],
  }
}
