import { closeDownOf, methodInfo, type FeedRunState, type RunRecord, type VisitFile } from '@uvula/core'
import { Tick } from '../kit/Tick.js'
import { StartTimer } from '../parts/Timers.js'
import { SCREEN } from './feedLooks.js'

/** How it ended, and how it is closed down: one step after the other. */
export function Over({
  file,
  run,
  state,
  onClosed,
  onBack,
}: {
  file: VisitFile
  run: RunRecord
  state: FeedRunState
  onClosed: (id: string) => void
  onBack: () => void
}) {
  const steps = closeDownOf(run)
  const next = steps.findIndex((s) => !s.done)
  const soak = methodInfo(run.feed!.method).soakMinutes
  return (
    <div className={`${SCREEN} bg-face text-ink`} data-status={state.phase}>
      <h1 className="text-figure font-semibold">
        {state.phase === 'done' ? 'All in' : 'Stopped'}: {state.fedMl.toFixed(1)} mL in {state.shots.length}{' '}
        {state.shots.length === 1 ? 'shot' : 'shots'}
      </h1>
      <div className="grid content-start gap-8">
        {state.reason && <p className="wrong text-lead">{state.reason}</p>}
        {state.slips > 0 && (
          <p>
            {state.slips === 1 ? 'One shot was' : `${state.slips} shots were`} late, long or fed twice: counted as it
            was.
          </p>
        )}
        <p className="text-lead">Close down, in this order:</p>
        <ol className="grid gap-8" aria-label="close down">
          {steps.map((s, k) => (
            <li key={s.id}>
              <Tick
                checked={s.done}
                disabled={s.done || k !== next}
                onChange={() => onClosed(s.id)}
                className={`min-h-60 w-full text-lead ${k === next ? 'border-4' : ''}`}
              >
                {s.words}
              </Tick>
            </li>
          ))}
        </ol>
      </div>
      <div className="flex flex-wrap gap-12">
        {state.phase === 'done' && next < 0 && soak > 0 && (
          <StartTimer file={file} label="soak" kind="soak" seconds={60 * soak} />
        )}
        <button type="button" className="act strong min-h-60 border-current text-lead" onClick={onBack}>
          back to the bench
        </button>
      </div>
    </div>
  )
}
