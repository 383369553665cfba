import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { useEffect, useRef } from 'react'
import { QUANTITIES, maybeChannel, type ChannelId } from '@uvula/core'
import { useSettings } from '../store/settings.js'
import { sayClock } from '../words/format.js'

/** Columns for drawing, as the server thins them. */
export type Trace = Readonly<Record<string, readonly (number | null)[]>>

/** A stretch of time that is marked on every chart. */
export interface Stretch {
  readonly startS: number
  readonly endS: number
  readonly strong: boolean
}

/** Room left and right of every chart, so that the first and last time can be read [px]. */
export const EDGE_PX = 18

/** Charts of one recording under one time scale: one cursor over all, drag to zoom, double tap for the whole. */
export function TraceStack({
  trace,
  channels,
  stretches,
  expected,
  other,
  onCursor,
  onRange,
}: {
  trace: Trace
  channels: readonly ChannelId[]
  stretches: readonly Stretch[]
  /** Where a channel should lie, row by row: its lower and upper bound, drawn under it. */
  expected: Partial<Record<ChannelId, readonly (readonly (number | null)[])[]>>
  /** Another recording at the same rows, drawn lighter. */
  other?: Trace
  /** Index into the trace under the cursor, or undefined when it has left. */
  onCursor: (index: number | undefined) => void
  /** Time that is shown now [s]. */
  onRange: (range: readonly [number, number]) => void
}) {
  const box = useRef<HTMLDivElement>(null)
  const plots = useRef<uPlot[]>([])
  const shown = useRef({ stretches, onCursor, onRange })
  shown.current = { stretches, onCursor, onRange }
  const { theme, units } = useSettings()
  const key = channels.join()

  useEffect(() => {
    const el = box.current!
    const style = getComputedStyle(document.documentElement)
    const [ink, air, soft] = ['--color-ink', '--color-air', '--color-soft'].map((name) => style.getPropertyValue(name))
    const times = trace.time_s as number[]
    const sync = uPlot.sync('recording')
    let moving = false
    const charts = channels.map((id, i) => {
      const host = el.querySelectorAll<HTMLElement>('.trace-plot')[i]
      const last = i === channels.length - 1
      const chart = new uPlot(
        {
          width: Math.max(60, host.clientWidth),
          height: Math.max(30, host.clientHeight),
          padding: [4, EDGE_PX, last ? 0 : 4, EDGE_PX],
          legend: { show: false },
          cursor: {
            sync: { key: 'recording', setSeries: false },
            drag: { x: true, y: false, setScale: true },
            points: { size: 9, fill: ink },
          },
          scales: { x: { time: false }, y: { range: (_u, low, high) => roomy(id, low, high) } },
          axes: [
            last
              ? {
                  stroke: ink,
                  font: "16px 'Barlow Semi Condensed'",
                  size: 30,
                  grid: { show: false },
                  ticks: { stroke: ink, size: 8 },
                  values: (_u, ts) => ts.map(sayClock),
                }
              : { show: false },
            { show: false },
          ],
          series: [
            {},
            { stroke: ink, width: 1.5, points: { show: false }, spanGaps: true },
            ...(other?.[id] ? [{ stroke: soft, width: 3, points: { show: false }, spanGaps: true }] : []),
            ...(expected[id] ?? []).map(() => ({ stroke: soft, width: 1.5, dash: [4, 5], points: { show: false } })),
          ],
          hooks: {
            drawClear: [(u) => drawStretches(u, shown.current.stretches, air, soft)],
            setCursor: [(u) => shown.current.onCursor(u.cursor.idx ?? undefined)],
            setScale: [
              (u, axis) => {
                // a zoom on one chart is a zoom on all
                if (axis !== 'x' || moving) return
                moving = true
                const { min, max } = u.scales.x
                for (const other of charts) if (other !== u) other.setScale('x', { min: min!, max: max! })
                moving = false
                shown.current.onRange([min!, max!])
              },
            ],
          },
        },
        [
          times,
          trace[id] as (number | null)[],
          ...(other?.[id] ? [other[id] as (number | null)[]] : []),
          ...((expected[id] ?? []) as (number | null)[][]),
        ],
        host,
      )
      sync.sub(chart)
      return chart
    })
    plots.current = charts
    // drawn once more when the figures' own face is there
    void document.fonts.ready.then(() => charts.forEach((c) => c.redraw(false, true)))
    const fit = new ResizeObserver(() => {
      el.querySelectorAll<HTMLElement>('.trace-plot').forEach((host, i) =>
        charts[i]?.setSize({ width: host.clientWidth, height: host.clientHeight }),
      )
    })
    fit.observe(el)
    return () => {
      fit.disconnect()
      for (const chart of charts) {
        sync.unsub(chart)
        chart.destroy()
      }
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key stands for the list of channels
  }, [trace, key, theme, expected, other])

  useEffect(() => {
    for (const chart of plots.current) chart.redraw(false)
  }, [stretches])

  return (
    <div ref={box} className="trace-stack flex-[1_0_auto] flex flex-col min-h-560">
      {channels.map((id, i) => {
        const channel = maybeChannel(id)!
        const symbol = units[channel.quantity] ?? QUANTITIES[channel.quantity].units[0].symbol
        return (
          <div
            key={id}
            className={`trace-row border-b border-b-line gap-x-6 flex-1 grid grid-cols-[130px_minmax(0,1fr)] items-center phone:grid-cols-[90px_minmax(0,1fr)] ${i === channels.length - 1 ? 'last min-h-112' : 'min-h-82'}`}
            data-channel={id}
          >
            <p className="leading-tight text-small">
              {channel.label}
              <br />
              <span className="text-soft">{symbol}</span>
            </p>
            <div
              className="trace-plot overflow-hidden h-full min-w-0 relative"
              role="img"
              aria-label={`${channel.label} over time`}
            />
          </div>
        )
      })}
    </div>
  )
}

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

function roomy(id: ChannelId, low: number | null, high: number | null): [number, number] {
  if (low === null || high === null) return [0, 1]
  const half = Math.max(LEAST[id] ?? USUAL_LEAST, high - low) / 2
  const mid = (low + high) / 2
  return [mid - 1.08 * half, mid + 1.08 * half]
}

function drawStretches(u: uPlot, stretches: readonly Stretch[], air: string, soft: string): void {
  for (const s of stretches) {
    const from = Math.max(u.bbox.left, u.valToPos(s.startS, 'x', true))
    const to = Math.min(u.bbox.left + u.bbox.width, u.valToPos(s.endS, 'x', true))
    if (!(to > from)) continue
    u.ctx.fillStyle = air
    u.ctx.fillRect(from, u.bbox.top, to - from, u.bbox.height)
    if (!s.strong) continue
    u.ctx.fillStyle = soft
    u.ctx.fillRect(from, u.bbox.top, 3, u.bbox.height)
    u.ctx.fillRect(to - 3, u.bbox.top, 3, u.bbox.height)
  }
}
