import { Link } from 'react-router'
import { closeDownOf, methodInfo, type FeedRunState, type RunRecord, type VisitFile } from '@uvula/core'
import { StartTimer } from '../../parts/Timers.js'

/** The last feed: what went in, and what of it is still to be done. */
export function LastFeed({ file, run, state }: { file: VisitFile; run: RunRecord; state: FeedRunState }) {
  const going = !['done', 'stopped'].includes(state.phase)
  const left = closeDownOf(run).filter((s) => !s.done)
  const to = `/visit/${encodeURIComponent(file.visit.id)}/run/${encodeURIComponent(run.id)}`
  const soak = methodInfo(run.feed!.method).soakMinutes
  return (
    <div className="my-8 border-l-6 border-l-ink pl-10" data-testid="last-feed">
      <p>
        Last feed: {state.fedMl.toFixed(1)} mL in {state.shots.length} {state.shots.length === 1 ? 'shot' : 'shots'}
        {state.phase === 'done' ? ', all of it in' : going ? ', going on' : ''}. {state.reason && <b>{state.reason}</b>}
      </p>
      {going ? (
        <Link className="act strong mt-6" to={to}>
          go on with it
        </Link>
      ) : left.length ? (
        <Link className="act strong mt-6" to={to}>
          close it down: {left[0].words}
        </Link>
      ) : (
        state.phase === 'done' &&
        soak > 0 && (
          <div className="my-6">
            <StartTimer file={file} label="soak" kind="soak" seconds={60 * soak} />
          </div>
        )
      )}
    </div>
  )
}
