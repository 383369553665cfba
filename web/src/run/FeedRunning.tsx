import { HAZARDS, type FeedPlan, type FeedRunState, type RunEvent, type RunRecord } from '@uvula/core'
import { SCREEN, BIG } from './feedLooks.js'
import { FEED_WORDS } from './words.js'

export function Running({
  run,
  plan,
  state,
  now,
  waits,
  rpm,
  speedView,
  leads,
  other,
  onLead,
  onHold,
  tell,
}: {
  run: RunRecord
  plan: FeedPlan
  state: FeedRunState
  now: number
  waits: string | undefined
  rpm: number | undefined
  speedView: boolean
  leads: boolean
  /** Who works at the page that leads, where it is another. */
  other?: string
  onLead: () => void
  onHold: () => void
  tell: (kind: RunEvent['kind']) => void
}) {
  const { phase, dueMs } = state
  const left = dueMs === undefined ? 0 : (dueMs - now) / 1000
  const open = phase === 'shot'
  const lastShut = state.shots.at(-1)?.shutMs
  const each = plan.inlets === 2 ? ' at each inlet' : ''
  return (
    <div
      className={`${SCREEN} ${open ? 'bg-now text-now-ink' : 'bg-face text-ink'}`}
      data-status="running"
      data-phase={phase}
      data-shots={state.shots.length}
    >
      <h1 className="flex flex-wrap items-baseline justify-between gap-x-24 font-semibold">
        <span className="text-[length:min(12vh,_13vw)] leading-none">{FEED_WORDS[phase]}</span>
        <span className="fig text-figure">
          {state.fedMl.toFixed(1)} <small>of {run.feed!.doseMl.toFixed(0)} mL</small>
        </span>
      </h1>
      {speedView ? (
        <p className="self-center text-center" data-testid="hold-speed">
          <span className={BIG}>{(rpm ?? plan.rpm).toFixed(0)}</span>
          <span className="block text-figure">
            {rpm === undefined ? 'rpm to hold' : `rpm now: hold ${plan.rpm.toFixed(0)}`}
          </span>
        </p>
      ) : (
        <p className="self-center text-center">
          <span className={BIG} data-testid="seconds">
            {phase === 'held' ? '—' : Math.max(0, left).toFixed(open || left < 10 ? 1 : 0)}
          </span>
          <span className="block text-figure">
            {phase === 'held' ? 'the next shot waits for you' : open ? 's until shut' : 's until the next shot'}
          </span>
        </p>
      )}
      <div className="grid gap-4 text-lead">
        <p>
          {(plan.rateMlS / plan.inlets).toFixed(2)} mL/s{each} while open. Hold {plan.rpm.toFixed(0)} rpm
          {rpm === undefined ? '' : `, ${rpm.toFixed(0)} now`}. {state.leftShots} to go; film {state.filmMl.toFixed(1)}{' '}
          of {plan.limits.liquidMl.toFixed(1)} mL.
        </p>
        {state.longerS > 0 && phase === 'pause' && (
          <p className="border-l-6 border-l-current pl-10">
            The pause is {state.longerS.toFixed(0)} s longer: what was fed burns off first.
          </p>
        )}
        {waits !== undefined && !open && <p className="border-l-6 border-l-current pl-10">Waits: {waits}.</p>}
        {!leads && (
          <p className="border-l-6 border-l-current pl-10">
            {other === undefined ? 'No page leads the clock.' : `${other} leads the clock on another page.`}{' '}
            <button type="button" className="act border-current" onClick={onLead}>
              lead it here
            </button>
          </p>
        )}
      </div>
      <div className="grid gap-8">
        <div className="flex flex-wrap gap-8">
          <button type="button" className="act min-h-60 border-current text-lead" disabled={open} onClick={onHold}>
            {phase === 'held' ? 'go on' : 'hold'}
          </button>
          <button
            type="button"
            className="act min-h-60 border-current text-lead"
            disabled={open || lastShut === undefined}
            onClick={() => tell('shut-late')}
          >
            shut only now
          </button>
          <button
            type="button"
            className="act min-h-60 border-current text-lead"
            disabled={open || lastShut === undefined}
            onClick={() => tell('again')}
          >
            went in twice
          </button>
        </div>
        <div className="grid grid-cols-6 gap-8 narrow:grid-cols-3" role="group" aria-label="end the feed">
          {HAZARDS.map((h) => (
            <button
              key={h.kind}
              type="button"
              className="act stop min-h-60 justify-center border-current bg-[#14191a] px-6 text-lead leading-tight text-[#f1f3f0] narrow:text-body"
              onClick={() => tell(h.kind)}
            >
              {h.label}
            </button>
          ))}
        </div>
      </div>
    </div>
  )
}
