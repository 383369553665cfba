import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { useEffect, useRef } from 'react'
import { useSettings } from '../store/settings.js'

/** How much of the past a strip shows [s], and how far apart two samples may be and still be one line. */
export const STRIP_S = 60
const GAP_S = 1.5

/** One channel over the last minute; a gap is a gap, a mark is a line. */
export function Strip({
  points,
  now,
  span,
  band,
  marks,
  gapS = GAP_S,
  label,
}: {
  points: readonly (readonly [t: number, y: number])[]
  now: number
  /** Least height in its own unit. */
  span: number
  band?: { readonly low: number; readonly high: number }
  marks: readonly number[]
  gapS?: number
  label: string
}) {
  const box = useRef<HTMLDivElement>(null)
  const plot = useRef<uPlot>(undefined)
  const drawn = useRef({ band, marks, colours: { ink: '', air: '' } })
  drawn.current = { ...drawn.current, band, marks }
  const { theme } = useSettings()

  useEffect(() => {
    const el = box.current!
    const style = getComputedStyle(document.documentElement)
    drawn.current.colours = { ink: style.getPropertyValue('--color-ink'), air: style.getPropertyValue('--color-air') }
    const ink = drawn.current.colours.ink
    const chart = new uPlot(
      {
        width: Math.max(40, el.clientWidth),
        height: Math.max(20, el.clientHeight),
        padding: [3, 0, 3, 0],
        cursor: { show: false },
        legend: { show: false },
        axes: [{ show: false }, { show: false }],
        scales: { x: { time: false, auto: false }, y: { auto: false } },
        series: [{}, { stroke: ink, width: 1.5, points: { show: false }, spanGaps: false }],
        hooks: { drawClear: [(u) => drawBand(u, drawn.current)], draw: [(u) => drawMarks(u, drawn.current)] },
      },
      [[], []],
      el,
    )
    plot.current = chart
    const fit = new ResizeObserver(() => chart.setSize({ width: el.clientWidth, height: el.clientHeight }))
    fit.observe(el)
    return () => {
      fit.disconnect()
      chart.destroy()
    }
  }, [theme])

  useEffect(() => {
    const xs: number[] = []
    const ys: (number | null)[] = []
    let low = Infinity
    let high = -Infinity
    for (const [t, y] of points) {
      const before = xs.at(-1)
      if (before !== undefined && t - before > gapS) {
        xs.push((t + before) / 2)
        ys.push(null)
      }
      xs.push(t)
      ys.push(y)
      low = Math.min(low, y)
      high = Math.max(high, y)
    }
    const mid = (low + high) / 2
    const half = Math.max(span, high - low) / 2
    plot.current?.batch(() => {
      plot.current!.setData([xs, ys], false)
      plot.current!.setScale('x', { min: now - STRIP_S, max: now })
      if (Number.isFinite(mid)) plot.current!.setScale('y', { min: mid - 1.1 * half, max: mid + 1.1 * half })
    })
  }, [points, now, span, gapS, marks, theme])

  return <div ref={box} className="strip" role="img" aria-label={label} />
}

interface Drawn {
  readonly band?: { readonly low: number; readonly high: number }
  readonly marks: readonly number[]
  readonly colours: { readonly ink: string; readonly air: string }
}

function drawBand(u: uPlot, { band, colours }: Drawn): void {
  if (!band || u.scales.y.min === undefined) return
  const top = Math.max(u.bbox.top, u.valToPos(band.high, 'y', true))
  const bottom = Math.min(u.bbox.top + u.bbox.height, u.valToPos(band.low, 'y', true))
  if (!(bottom > top)) return
  u.ctx.fillStyle = colours.air
  u.ctx.fillRect(u.bbox.left, top, u.bbox.width, bottom - top)
}

function drawMarks(u: uPlot, { marks, colours }: Drawn): void {
  u.ctx.fillStyle = colours.ink
  for (const t of marks) {
    const x = u.valToPos(t, 'x', true)
    if (x >= u.bbox.left && x <= u.bbox.left + u.bbox.width) u.ctx.fillRect(x - 1, 0, 3, u.bbox.height + u.bbox.top)
  }
}
