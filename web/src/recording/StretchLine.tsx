import { Toggle } from 'radix-ui'
import type { ReactNode } from 'react'
import type { LeftOut, OperatingPoint } from '@uvula/core'
import { sayClock } from '../words/format.js'
import { StretchEnds } from './StretchEnds.js'
import { EDGE_PX, SCALE_PX } from './traceOption.js'
import { pointName, REASONS } from './words.js'

/** What counts of a recording and what does not, over its time: a tap opens one, the open one has ends to pull. */
export function StretchLine({
  points,
  ways,
  open,
  why,
  range: [from, to],
  onOpen,
  onWhy,
  onMove,
  onWhole,
}: {
  points: readonly OperatingPoint[]
  ways: readonly LeftOut[]
  /** Index of the open stretch. */
  open: number | undefined
  why: LeftOut | undefined
  /** Time that is shown now [s]. */
  range: readonly [number, number]
  onOpen: (i: number | undefined) => void
  onWhy: (w: LeftOut | undefined) => void
  onMove: (i: number, startS: number, endS: number) => void
  /** Shows the whole recording again; left out while it is shown. */
  onWhole: (() => void) | undefined
}) {
  /** Where a time stands [%]: what is out of sight stands at the edge. */
  const across = (t: number): number => (100 * (Math.min(to, Math.max(from, t)) - from)) / Math.max(1e-6, to - from)
  const inView = (s: { readonly startS: number; readonly endS: number }): boolean => s.endS > from && s.startS < to
  const place = (s: { readonly startS: number; readonly endS: number }): React.CSSProperties => ({
    left: `${across(s.startS)}%`,
    width: `${across(s.endS) - across(s.startS)}%`,
  })
  const shown = open === undefined ? undefined : points[open]
  return (
    <div
      data-stretch-line
      className="relative ml-136 h-56 flex-none border-b-2 border-b-ink phone:ml-96"
      style={{ paddingLeft: SCALE_PX, paddingRight: EDGE_PX }}
    >
      {onWhole && (
        <button type="button" className="act absolute top-4 -left-130 phone:-left-96 phone:px-8" onClick={onWhole}>
          whole
        </button>
      )}
      <div className="relative h-full">
        <ul aria-label="stretches that are left out">
          {ways.filter(inView).map((w) => (
            <Stretch
              key={w.startS}
              style={place(w)}
              className="text-small font-medium text-soft data-[state=on]:bg-face-2 data-[state=on]:text-ink data-[state=on]:shadow-[inset_0_-4px_0_var(--color-ink)]"
              name={`${REASONS[w.reason][0]}, ${sayClock(w.startS)} to ${sayClock(w.endS)}`}
              pressed={w === why}
              onPress={() => onWhy(w === why ? undefined : w)}
            >
              {REASONS[w.reason][0]}
            </Stretch>
          ))}
        </ul>
        <ol aria-label="stretches that count">
          {points.map(
            (p, i) =>
              inView(p) && (
                <Stretch
                  key={p.startS}
                  style={place(p)}
                  className="border-l-2 border-l-ink bg-air text-label font-semibold data-[state=on]:bg-ink data-[state=on]:text-face"
                  name={`${pointName(p)}, ${sayClock(p.startS)} to ${sayClock(p.endS)}`}
                  pressed={i === open}
                  onPress={() => onOpen(i === open ? undefined : i)}
                >
                  {pointName(p)}
                </Stretch>
              ),
          )}
        </ol>
        <Flag at={shown ?? why} across={across}>
          {shown ? pointName(shown) : why && REASONS[why.reason][0]}
        </Flag>
      </div>
      {open !== undefined && shown && (
        <StretchEnds startS={shown.startS} endS={shown.endS} range={[from, to]} onMove={(a, b) => onMove(open, a, b)} />
      )}
    </div>
  )
}

/** A stretch as wide as its time; a word that has no room is left out there, and stands on its flag when touched. */
function Stretch({
  style,
  className,
  name,
  pressed,
  onPress,
  children,
}: {
  style: React.CSSProperties
  className: string
  name: string
  pressed: boolean
  onPress: () => void
  children: ReactNode
}) {
  return (
    <li className="absolute bottom-0 h-52 [container-type:inline-size]" style={style}>
      <Toggle.Root
        aria-label={name}
        pressed={pressed}
        onPressedChange={onPress}
        className={`h-full w-full overflow-hidden pl-3 leading-none whitespace-nowrap [@container_(max-width:44px)]:text-[0px] ${className}`}
      >
        {children}
      </Toggle.Root>
    </li>
  )
}

/** The name of what is open, over its place, however narrow that is. */
function Flag({
  at,
  across,
  children,
}: {
  at: { readonly startS: number; readonly endS: number } | undefined
  across: (t: number) => number
  children: ReactNode
}) {
  if (!at) return null
  const middle = (across(at.startS) + across(at.endS)) / 2
  return (
    <p
      aria-hidden
      className={`pointer-events-none absolute -top-4 z-2 bg-ink px-6 text-small whitespace-nowrap text-face ${middle > 70 ? '-translate-x-full' : ''}`}
      style={{ left: `${middle}%` }}
    >
      {children}
    </p>
  )
}
