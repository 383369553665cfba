import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { sayClock } from '../words/format.js'

/** Least length of a stretch that an end can be drawn to [s]. */
const LEAST_S = 1
/** What one press of an arrow key moves an end by [s]. */
const KEY_S = 1

/** The two ends of the open stretch, drawn over the time line: pulled by finger, or moved by arrow keys. */
export function StretchEnds({
  startS,
  endS,
  range: [from, to],
  lastS,
  onMove,
}: {
  startS: number
  endS: number
  /** Time that is shown now [s]. */
  range: readonly [number, number]
  /** Last time of the recording [s]. */
  lastS: number
  onMove: (startS: number, endS: number) => void
}) {
  const box = useRef<HTMLDivElement>(null)
  const [pulled, setPulled] = useState<readonly [number, number]>()
  const ends = pulled ?? [startS, endS]
  const across = (t: number): string => `${(100 * (t - from)) / Math.max(1e-6, to - from)}%`
  const within = (which: 0 | 1, t: number): readonly [number, number] =>
    which === 0
      ? [Math.max(0, Math.min(t, ends[1] - LEAST_S)), ends[1]]
      : [ends[0], Math.min(lastS, Math.max(t, ends[0] + LEAST_S))]
  const done = (next: readonly [number, number]): void => {
    setPulled(undefined)
    if (next[0] !== startS || next[1] !== endS) onMove(next[0], next[1])
  }
  const handle = (which: 0 | 1) => (
    <div
      role="slider"
      tabIndex={0}
      className={`top-0 border-r-ink absolute h-56 w-48 cursor-ew-resize pointer-events-auto touch-none after:top-1/2 after:border-9 after:border-t-transparent after:border-b-transparent after:absolute after:[transform:translateY(-50%)] ${which ? '-ml-6 border-r-0 border-l-6 border-l-ink after:right-auto after:left-4 after:border-r-transparent after:border-l-ink' : '-ml-42 border-r-6 after:right-4 after:border-r-ink after:border-l-transparent'}`}
      style={{ left: across(ends[which]) }}
      aria-label={which ? 'end of this stretch' : 'start of this stretch'}
      aria-valuemin={0}
      aria-valuemax={lastS}
      aria-valuenow={ends[which]}
      aria-valuetext={sayClock(ends[which])}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        setPulled([startS, endS])
      }}
      onPointerMove={(e: PointerEvent) => {
        if (!pulled) return
        const { left, width } = box.current!.getBoundingClientRect()
        setPulled(within(which, from + ((e.clientX - left) / width) * (to - from)))
      }}
      onPointerUp={() => pulled && done(pulled)}
      onPointerCancel={() => setPulled(undefined)}
      onKeyDown={(e: KeyboardEvent) => {
        const step = e.key === 'ArrowLeft' ? -KEY_S : e.key === 'ArrowRight' ? KEY_S : 0
        if (!step) return
        e.preventDefault()
        done(within(which, ends[which] + step))
      }}
    />
  )
  return (
    <div ref={box} className="top-0 right-18 bottom-0 left-18 absolute pointer-events-none">
      {pulled && (
        <div
          className="top-0 absolute h-full bg-ink opacity-25"
          style={{ left: across(pulled[0]), width: `calc(${across(pulled[1])} - ${across(pulled[0])})` }}
        />
      )}
      {handle(0)}
      {handle(1)}
    </div>
  )
}
