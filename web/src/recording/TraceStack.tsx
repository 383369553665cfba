import type { ECharts } from 'echarts/core'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { maybeChannel, type ChannelId } from '@uvula/core'
import { Chart } from '../charts/Chart.js'
import { chartTokens, type ChartTokens } from '../charts/tokens.js'
import { useSettings } from '../store/settings.js'
import { sayClock, useFormat } from '../words/format.js'
import { closerOption, stretchesOption, TIME_PX, traceOption, type Stretch, type Trace } from './traceOption.js'

/** Least height of one chart, so that its scale can be read [px]. */
const ROW_PX = 84
/** Rows of the table that stands for the charts. */
const TABLE_ROWS = 40

/** Charts of one recording under one time scale: one cursor over all, drag to zoom, double tap for the whole. */
export function TraceStack({
  trace,
  shown,
  channels,
  stretches,
  expected,
  other,
  at,
  range,
  waiting,
  onCursor,
  onRange,
}: {
  /** The whole, thinned. */
  trace: Trace
  /** The same with every row of the time that is looked at, as soon as those have come. */
  shown: Trace
  channels: readonly ChannelId[]
  stretches: readonly Stretch[]
  /** Where a channel should lie, row by row: its lower and upper bound, drawn under it. */
  expected: Partial<Record<ChannelId, readonly (readonly (number | null)[])[]>>
  /** Another recording at the same rows, drawn lighter. */
  other?: Trace
  /** Row under the cursor. */
  at: number | undefined
  /** Time under the cursor [s], or undefined when it has left: rows come and go under it. */
  onCursor: (timeS: number | undefined) => void
  /** Time that is looked at more closely [s]; left out while the whole is shown. */
  range: readonly [number, number] | undefined
  /** Its rows are on their way. */
  waiting: boolean
  onRange: (range: readonly [number, number]) => void
}) {
  const format = useFormat()
  const { theme } = useSettings()
  const [chart, setChart] = useState<ECharts>()
  const times = shown.time_s as readonly number[]
  const heightPx = Math.max(560, channels.length * ROW_PX + TIME_PX)
  const say = useCallback((id: ChannelId, x: number) => format(maybeChannel(id)!.quantity, x), [format])
  // the key stands for the list of channels
  const key = channels.join()
  const drawn = useMemo(() => key.split(',') as ChannelId[], [key])
  const option = useCallback(
    (t: ChartTokens) => traceOption(t, { trace, channels: drawn, expected, other, heightPx, say }),
    [trace, drawn, expected, other, heightPx, say],
  )
  const wasClose = useRef(false)
  const heard = useRef({ onCursor, onRange, times })
  heard.current = { onCursor, onRange, times }
  const onReady = useCallback((c: ECharts) => {
    setChart(c)
    return listen(c, heard)
  }, [])
  useEffect(() => {
    chart?.setOption(stretchesOption(chartTokens(), drawn, stretches))
    // a drag over a chart chooses the time that is looked at
    chart?.dispatchAction({ type: 'takeGlobalCursor', key: 'dataZoomSelect', dataZoomSelectActive: true })
  }, [chart, drawn, stretches, option, theme])
  const [fromS, toS] = range ?? [times[0], times.at(-1)!]
  const isClose = range !== undefined
  useEffect(() => {
    // into the charts that are drawn: what is zoomed to stays
    if (waiting) return
    if (chart && (isClose || wasClose.current))
      chart.setOption(closerOption(chartTokens(), { trace: shown, channels: drawn, range: [fromS, toS], say }))
    wasClose.current = isClose
  }, [chart, drawn, shown, fromS, toS, isClose, waiting, say, option, theme])
  const step = Math.max(1, Math.floor(times.length / TABLE_ROWS))
  // what is laid under it keeps the rows of the whole
  const under = at === undefined || !other ? undefined : nearest(trace.time_s as readonly number[], times[at])
  return (
    <div className="trace-stack grid grid-cols-[130px_minmax(0,1fr)] gap-x-6 phone:grid-cols-[90px_minmax(0,1fr)]">
      <ul className="flex flex-col" style={{ paddingBottom: TIME_PX, height: heightPx }}>
        {drawn.map((id) => {
          const x = at === undefined ? undefined : shown[id][at]
          const below = under === undefined ? undefined : (other?.[id]?.[under] ?? undefined)
          return (
            <li key={id} data-channel={id} className="grid flex-1 content-center border-b border-b-line leading-tight">
              <span className="text-small">{maybeChannel(id)!.label}</span>
              <Value id={id} value={x ?? undefined} rest={trace[id]} />
              {below !== undefined && <span className="text-small text-soft">under it {say(id, below)}</span>}
            </li>
          )
        })}
      </ul>
      <div style={{ height: heightPx }}>
        <Chart
          key={key}
          label={`${drawn.map((id) => maybeChannel(id)!.label).join(', ')} over ${sayClock(times.at(-1) ?? 0)}`}
          className="trace-plot h-full w-full"
          option={option}
          onReady={onReady}
          table={{
            head: ['time, s', ...drawn.map((id) => maybeChannel(id)!.label)],
            rows: times
              .filter((_, i) => i % step === 0)
              .map((s, k) => [s, ...drawn.map((id) => shown[id][k * step] ?? '')]),
          }}
        />
      </div>
    </div>
  )
}

/** The value under the cursor; at rest, from where to where the channel went. */
function Value({ id, value, rest }: { id: ChannelId; value: number | undefined; rest: readonly (number | null)[] }) {
  const format = useFormat()
  const { quantity } = maybeChannel(id)!
  const [low, high] = useMemo(() => {
    const xs = rest.filter((x) => x !== null)
    return [Math.min(...xs), Math.max(...xs)]
  }, [rest])
  if (value !== undefined) return <b className="fig text-name">{format(quantity, value)}</b>
  if (!(low <= high)) return <span className="text-small text-soft">no value</span>
  return (
    <span className="text-small text-soft">
      {format(quantity, low).replace(/\u2009.*/, '')} to {format(quantity, high)}
    </span>
  )
}

interface Zoom {
  readonly startValue?: number
  readonly endValue?: number
}
interface Zoomed extends Zoom {
  readonly batch?: readonly Zoom[]
}

interface Heard {
  readonly onCursor: (timeS: number | undefined) => void
  readonly onRange: (range: readonly [number, number]) => void
  readonly times: readonly number[]
}

/** Tells where the cursor is and what is zoomed to; a double tap shows the whole. */
function listen(chart: ECharts, heard: { readonly current: Heard }): () => void {
  const zr = chart.getZr()
  const whole = (): void => void chart.dispatchAction({ type: 'dataZoom', start: 0, end: 100 })
  const left = (): void => heard.current.onCursor(undefined)
  chart.on('updateAxisPointer', (e) => {
    const value = (e as { axesInfo?: readonly { axisDim: string; value: number }[] }).axesInfo?.find(
      (a) => a.axisDim === 'x',
    )?.value
    heard.current.onCursor(value)
  })
  chart.on('datazoom', (e) => {
    // a drag names the times it chose; the whole is named in percent
    const { startValue, endValue } = (e as Zoomed).batch?.[0] ?? (e as Zoomed)
    const { times } = heard.current
    heard.current.onRange(
      startValue === undefined || endValue === undefined
        ? [times[0], times.at(-1)!]
        : [Math.max(times[0], startValue), Math.min(times.at(-1)!, endValue)],
    )
  })
  zr.on('dblclick', whole)
  zr.on('globalout', left)
  return () => {
    zr.off('dblclick', whole)
    zr.off('globalout', left)
  }
}

/** Index of the time nearest to `t`; the times rise. */
export function nearest(times: readonly number[], t: number): number {
  let [low, high] = [0, times.length - 1]
  while (high - low > 1) {
    const mid = (low + high) >> 1
    if (times[mid] <= t) low = mid
    else high = mid
  }
  return t - times[low] <= times[high] - t ? low : high
}
