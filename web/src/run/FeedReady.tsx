import { Link } from 'react-router'
import { FEED_PRECONDITIONS, mayBegin, methodInfo, type FeedPlan, type RunRecord, type VisitFile } from '@uvula/core'
import { Tick } from '../kit/Tick.js'
import { useNow } from '../parts/Timers.js'
import { beep } from '../store/sound.js'
import { SCREEN, HIGH, LOW, cap } from './feedLooks.js'

/** Before a feed: its STOPs, what stands against it, what the clock will do. */
export function Ready({
  file,
  run,
  plan,
  problem,
  onTick,
  onBegin,
  onBack,
  onDrop,
}: {
  file: VisitFile
  run: RunRecord
  plan: FeedPlan
  problem: string | undefined
  onTick: (id: string) => void
  onBegin: () => void
  onBack: () => void
  onDrop: (() => void) | undefined
}) {
  const gate = mayBegin(file, run, useNow(1000))
  const m = methodInfo(plan.method)
  const open = FEED_PRECONDITIONS.filter((c) => !run.preconditions.includes(c.id))
  const others = gate.ok ? [] : gate.refusals.filter((r) => r.rule !== 'preconditions')
  return (
    <div className={`${SCREEN} bg-face text-ink`} data-status="ready">
      <h1 className="text-figure font-semibold">
        {plan.shots} shots of {plan.shotS} s at {plan.rpm.toFixed(0)} rpm
      </h1>
      <div>
        {open.map((c) => (
          <p key={c.id} className="mt-14 flex flex-wrap gap-12">
            <Tick checked={false} onChange={() => onTick(c.id)} className="min-h-60 border-current text-lead">
              STOP: {c.label}
            </Tick>
          </p>
        ))}
        {others.map((r) => (
          <p key={r.message} className="wrong mt-8" data-rule={r.rule}>
            {r.message}
          </p>
        ))}
        {problem && <p className="wrong mt-8">{problem}</p>}
        <p className="mt-14 text-lead">
          {plan.pressureBar === undefined ? '' : `Regulator at ${plan.pressureBar.toFixed(1)} bar. `}
          The clock counts 3 s in. High tone: open. Low tone: shut. Nothing is tapped unless something is wrong.
        </p>
        <p className="mt-8">
          {cap(m.hands!)}. Stopped by {m.stoppedBy}.
        </p>
        <p className="mt-8">
          <Link to="?view=speed">Speed to hold, for the second person’s tablet</Link>
        </p>
      </div>
      <div className="flex flex-wrap gap-12">
        <button
          type="button"
          className="act strong min-h-60 border-current text-lead"
          disabled={!gate.ok}
          onClick={onBegin}
        >
          begin
        </button>
        <button
          type="button"
          className="act min-h-60 border-current text-lead"
          onClick={() => {
            beep(HIGH)
            setTimeout(() => beep(LOW), 700)
          }}
        >
          hear both tones
        </button>
        <button type="button" className="act min-h-60 border-current text-lead" onClick={onBack}>
          back to the bench
        </button>
        {onDrop && (
          <button type="button" className="act min-h-60 border-current text-lead" onClick={onDrop}>
            take it off
          </button>
        )}
      </div>
    </div>
  )
}
