import { memo, useCallback, useLayoutEffect, useRef } from 'react'
import { ToggleGroup } from 'radix-ui'
import type { Outcome, StationState } from '@uvula/core'
import { Ring } from '../parts/Ring.js'

/** What a look can say, as rings; the words stand over them once, and in each ring's name. */
export const OUTCOMES: readonly { readonly outcome: Outcome; readonly state: StationState; readonly word: string }[] = [
  { outcome: 'pass', state: 'sound', word: 'sound' },
  { outcome: 'unclear', state: 'suspect', word: 'suspect' },
  { outcome: 'fail', state: 'failed', word: 'failed' },
]

/** Words over a column of rings. */
export function RingWords() {
  return (
    <p aria-hidden className="flex justify-end text-small leading-none text-soft">
      {OUTCOMES.map((o) => (
        <span key={o.outcome} className="w-tap text-center narrow:w-56">
          {o.word}
        </span>
      ))}
    </p>
  )
}

interface RingsProps {
  readonly question: string
  readonly value: Outcome | undefined
  /** Undefined: taken back. */
  readonly onJudge: (outcome: Outcome | undefined) => void
}

/** One tap judges; a tap on what is chosen takes it back. Of a walk of twenty only the one that was tapped is drawn anew. */
export function Rings({ question, value, onJudge }: RingsProps) {
  const latest = useRef(onJudge)
  useLayoutEffect(() => void (latest.current = onJudge))
  const judge = useCallback((outcome: Outcome | undefined) => latest.current(outcome), [])
  return <Drawn question={question} value={value} onJudge={judge} />
}

const Drawn = memo(function Drawn({ question, value, onJudge }: RingsProps) {
  return (
    <ToggleGroup.Root
      type="single"
      className="flex"
      aria-label={question}
      value={value ?? ''}
      onValueChange={(x) => onJudge((x || undefined) as Outcome | undefined)}
    >
      {OUTCOMES.map((o) => (
        <ToggleGroup.Item
          key={o.outcome}
          value={o.outcome}
          aria-label={`${question}: ${o.word}`}
          className="grid h-tap w-tap place-items-center narrow:w-56 data-[state=on]:bg-face-2 data-[state=on]:shadow-[inset_0_-5px_0_var(--color-ink)]"
        >
          <svg width="34" height="34" aria-hidden="true">
            <Ring x={17} y={18} r={10} state={o.state} />
          </svg>
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  )
})
