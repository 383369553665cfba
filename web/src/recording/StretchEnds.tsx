import { Slider } from 'radix-ui'
import { useEffect, useState } from 'react'
import { sayClock } from '../words/format.js'
import { EDGE_PX, SCALE_PX } from './traceOption.js'

/** Least length of a stretch that an end can be drawn to [s]. */
const LEAST_S = 1
/** What one press of an arrow key moves an end by [s]. */
const KEY_S = 1

/** The two ends of the open stretch, drawn over the time line: pulled by finger, or moved by arrow keys. */
export function StretchEnds({
  startS,
  endS,
  range: [from, to],
  onMove,
}: {
  startS: number
  endS: number
  /** Time that is shown now [s]: an end is pulled within it. */
  range: readonly [number, number]
  onMove: (startS: number, endS: number) => void
}) {
  const [ends, setEnds] = useState<readonly [number, number]>([startS, endS])
  const [pulling, setPulling] = useState(false)
  useEffect(() => setEnds([startS, endS]), [startS, endS])
  const share = (ends[1] - ends[0]) / Math.max(1e-6, to - from)
  return (
    <Slider.Root
      min={from}
      max={to}
      step={KEY_S / 10}
      minStepsBetweenThumbs={(10 * LEAST_S) / KEY_S}
      value={[Math.max(from, ends[0]), Math.min(to, ends[1])]}
      onValueChange={([a, b]) => {
        setPulling(true)
        setEnds([a === from && startS < from ? startS : a, b === to && endS > to ? endS : b])
      }}
      onValueCommit={([a, b]) => {
        setPulling(false)
        // an end out of sight stands at the edge, and was not pulled there
        const start = a === from && startS < from ? startS : a
        const end = b === to && endS > to ? endS : b
        if (start !== startS || end !== endS) onMove(start, end)
      }}
      className="pointer-events-none absolute top-0 h-full touch-none [container-type:inline-size]"
      style={{ left: SCALE_PX, right: EDGE_PX }}
    >
      <Slider.Track className="absolute inset-0">
        {pulling && <Slider.Range className="absolute h-full bg-ink opacity-25" />}
      </Slider.Track>
      {(['start', 'end'] as const).map((which, i) => (
        <Slider.Thumb
          key={which}
          hidden={i === 0 ? ends[0] < from : ends[1] > to}
          aria-label={`${which} of this stretch`}
          aria-valuetext={sayClock(ends[i])}
          // without width of its own, so that it stands where its time is
          className="pointer-events-auto relative block h-56 w-0 cursor-ew-resize"
        >
          <span
            className={`absolute top-0 h-full before:absolute before:top-0 before:h-full before:w-6 before:bg-ink ${which === 'start' ? 'left-0 before:left-0' : 'right-0 before:right-0'}`}
            // a hand's width, inward, and never over the other end or a neighbour
            style={{ width: `min(var(--spacing-tap), max(8px, ${(50 * share).toFixed(2)}cqw))` }}
          />
          {pulling && (
            <span className="fig absolute -top-2 left-1/2 -translate-x-1/2 bg-ink px-6 text-lead text-face">
              {sayClock(ends[i])}
            </span>
          )}
        </Slider.Thumb>
      ))}
    </Slider.Root>
  )
}
