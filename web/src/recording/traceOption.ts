import type { EChartsCoreOption } from 'echarts/core'
import type { ChannelId } from '@uvula/core'
import { sayFigure } from '../charts/base.js'
import { CHART_FIGURE, CHART_WORD, type ChartTokens } from '../charts/tokens.js'
import { sayClock } from '../words/format.js'

/** Columns for drawing, as the server thins them. */
export type Trace = Readonly<Record<string, readonly (number | null)[]>>

/** A stretch of time that is marked on every chart. */
export interface Stretch {
  readonly startS: number
  readonly endS: number
  readonly strong: boolean
}

/** Room left of the charts for their scales, and right of them, so that the last time can be read [px]. */
export const SCALE_PX = 62
export const EDGE_PX = 24
/** Room under the last chart for the time [px]. */
export const TIME_PX = 40

/** Least heights, so that noise does not fill a chart; canonical units. */
const LEAST: Partial<Record<ChannelId, number>> = {
  rpm: 200,
  maf_gs: 2,
  map_kpa: 8,
  load_pct: 10,
  speed_kph: 10,
  ect_c: 8,
  battery_v: 1,
  fuel_status: 1.2,
  lambda_cmd: 0.2,
}
const USUAL_LEAST = 8

/** Bounds of a channel's scale, so that noise does not fill its chart. */
export function roomy(id: ChannelId, low: number | null, high: number | null): [number, number] {
  if (low === null || high === null) return [0, 1]
  const half = Math.max(LEAST[id] ?? USUAL_LEAST, high - low) / 2
  const mid = (low + high) / 2
  return [mid - 1.08 * half, mid + 1.08 * half]
}

/** Low and high figure of what is drawn of a channel, with room. @param from, to - rows that are in sight */
function boundsOf(id: ChannelId, xs: readonly (number | null)[], from = 0, to = xs.length): [number, number] {
  let low = Infinity
  let high = -Infinity
  for (let i = from; i < to; i++) {
    const x = xs[i]
    if (x === null) continue
    low = Math.min(low, x)
    high = Math.max(high, x)
  }
  return low <= high ? roomy(id, low, high) : roomy(id, null, null)
}

/** A low and a high figure for a scale, round, and as far apart as the roundest step allows. */
export function scaleFigures([low, high]: readonly [number, number]): [number, number] {
  const power = 10 ** Math.floor(Math.log10(high - low))
  for (const step of [5, 2, 1, 0.5, 0.2, 0.1].map((m) => m * power)) {
    const [first, last] = [Math.ceil(low / step), Math.floor(high / step)]
    if (last - first >= 1 && (last - first) * step > 0.55 * (high - low))
      return [Number((first * step).toPrecision(6)), Number((last * step).toPrecision(6))]
  }
  return [low, high]
}

/** The scale of one chart: its bounds, and a low and a high figure. */
function scaleOf(
  t: ChartTokens,
  id: ChannelId,
  [min, max]: readonly [number, number],
  say: (id: ChannelId, value: number) => string,
) {
  const figures = scaleFigures([min, max])
  return {
    min,
    max,
    axisTick: { show: true, customValues: figures, length: 6, lineStyle: { color: t.ink } },
    axisLabel: {
      show: true,
      customValues: figures,
      color: t.ink,
      fontFamily: t.fig,
      fontWeight: 600,
      fontSize: CHART_FIGURE,
      showMinLabel: true,
      showMaxLabel: true,
      formatter: (x: number) =>
        sayFigure(
          Number(
            say(id, x)
              .replace(/[^\d.\-−]/g, '')
              .replace('−', '-'),
          ),
        ),
    },
  }
}

/** Charts of one recording, one below the other under one time: one cursor, one zoom. */
export function traceOption(
  t: ChartTokens,
  {
    trace,
    channels,
    expected,
    other,
    heightPx,
    say,
  }: {
    readonly trace: Trace
    readonly channels: readonly ChannelId[]
    readonly expected: Partial<Record<ChannelId, readonly (readonly (number | null)[])[]>>
    readonly other?: Trace
    /** Of all charts together. */
    readonly heightPx: number
    /** A value of a channel in this device's unit. */
    readonly say: (id: ChannelId, value: number) => string
  },
): EChartsCoreOption {
  const each = (heightPx - TIME_PX) / channels.length
  const times = trace.time_s as readonly number[]
  const along = (xs: readonly (number | null)[]) => alongTime(trace, xs)
  const line = { type: 'line', showSymbol: false, silent: true, connectNulls: true, sampling: 'minmax' } as const
  return {
    // every chart as wide as the others, whatever its labels: one time stands under one another
    grid: channels.map((_, i) => ({
      left: SCALE_PX,
      right: EDGE_PX,
      top: i * each + 8,
      height: each - 16,
      outerBoundsMode: 'none',
    })),
    axisPointer: {
      link: [{ xAxisIndex: 'all' }],
      label: { show: false },
      lineStyle: { color: t.ink, width: 2, type: 'solid' },
    },
    tooltip: { trigger: 'axis', showContent: false, axisPointer: { type: 'line', snap: true } },
    toolbox: {
      // not shown: it is what lets a drag over a chart choose the time that is looked at
      top: -60,
      feature: { dataZoom: { yAxisIndex: 'none', brushStyle: { color: t.ink, opacity: 0.15 } } },
    },
    dataZoom: [
      {
        type: 'inside',
        xAxisIndex: channels.map((_, i) => i),
        filterMode: 'none',
        zoomOnMouseWheel: 'ctrl',
        moveOnMouseMove: false,
        moveOnMouseWheel: false,
      },
    ],
    xAxis: channels.map((_, i) => {
      const last = i === channels.length - 1
      return {
        type: 'value',
        gridIndex: i,
        min: times[0],
        max: times.at(-1),
        axisLine: { show: last, onZero: false, lineStyle: { color: t.ink } },
        axisTick: { show: last, length: 8, lineStyle: { color: t.ink } },
        axisLabel: {
          show: last,
          color: t.ink,
          fontFamily: t.word,
          fontSize: CHART_WORD,
          hideOverlap: true,
          showMinLabel: true,
          formatter: (s: number) => sayClock(s),
        },
        splitLine: { show: false },
      }
    }),
    yAxis: channels.map((id, i) => ({
      type: 'value',
      gridIndex: i,
      axisLine: { show: true, lineStyle: { color: t.line } },
      splitLine: { show: false },
      // what is laid under it stays in sight too
      ...scaleOf(t, id, boundsOf(id, [...trace[id], ...(other?.[id] ?? [])]), say),
    })),
    series: channels.flatMap((id, i) => [
      ...(other?.[id]
        ? [
            {
              ...line,
              z: 1,
              xAxisIndex: i,
              yAxisIndex: i,
              data: along(other[id]),
              lineStyle: { color: t.soft, width: 3, opacity: 0.7 },
            },
          ]
        : []),
      ...(expected[id] ?? []).map((xs) => ({
        ...line,
        xAxisIndex: i,
        yAxisIndex: i,
        connectNulls: false,
        data: along(xs),
        lineStyle: { color: t.soft, width: 1.5, type: [4, 5] },
      })),
      {
        ...line,
        id: `trace-${id}`,
        name: id,
        xAxisIndex: i,
        yAxisIndex: i,
        data: along(trace[id]),
        lineStyle: { color: t.ink, width: 1.5 },
        markArea: { silent: true, data: [] },
      },
    ]),
  }
}

/**
 * What a closer look changes: the rows of the lines, and scales that fit what is in sight.
 * @param range - time in sight [s]
 */
export function closerOption(
  t: ChartTokens,
  {
    trace,
    channels,
    range: [from, to],
    say,
  }: {
    readonly trace: Trace
    readonly channels: readonly ChannelId[]
    readonly range: readonly [number, number]
    readonly say: (id: ChannelId, value: number) => string
  },
): EChartsCoreOption {
  const times = trace.time_s as readonly number[]
  const after = times.findIndex((s) => s > to)
  const rows = [
    Math.max(
      0,
      times.findIndex((s) => s >= from),
    ),
    after < 0 ? times.length : after,
  ] as const
  return {
    yAxis: channels.map((id) => scaleOf(t, id, boundsOf(id, trace[id], ...rows), say)),
    series: channels.map((id) => ({ id: `trace-${id}`, data: alongTime(trace, trace[id]) })),
  }
}

const alongTime = (trace: Trace, xs: readonly (number | null)[]): [number | null, number | null][] =>
  xs.map((x, i) => [trace.time_s[i], x])

/** Stretches laid over every chart: shaded, the open one between heavy edges. */
export const stretchesOption = (
  t: ChartTokens,
  channels: readonly ChannelId[],
  stretches: readonly Stretch[],
): EChartsCoreOption => ({
  series: channels.map((id) => ({
    id: `trace-${id}`,
    markArea: {
      silent: true,
      data: stretches.map((s) => [
        {
          xAxis: s.startS,
          itemStyle: { color: t.air, ...(s.strong ? { borderColor: t.soft, borderWidth: 3 } : {}) },
        },
        { xAxis: s.endS },
      ]),
    },
  })),
})
