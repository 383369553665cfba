import { methodInfo, type FeedPlan } from '@uvula/core'

/** The plan as it is worked by: rate, shots, minutes; then what holds it back, and when to stop. */
export function Plan({ plan: p }: { plan: FeedPlan }) {
  return (
    <div data-testid="plan">
      <dl className="grid grid-cols-[1.25fr_1fr_1fr] gap-12 leading-none">
        {p.pressureBar === undefined ? (
          <Figure
            value={(p.rateMlS / p.inlets).toFixed(2)}
            unit="mL/s"
            words={p.inlets === 2 ? 'at each of two inlets, while a shot runs' : 'while a shot runs'}
          />
        ) : (
          <Figure
            value={p.pressureBar.toFixed(1)}
            unit="bar"
            words={`on the regulator: ${(p.rateMlS / p.inlets).toFixed(2)} mL/s${p.inlets === 2 ? ' at each inlet' : ''} while open`}
          />
        )}
        <Figure
          value={String(p.shots)}
          unit={p.shots === 1 ? 'shot' : 'shots'}
          words={`of ${p.shotS} s, ${p.pauseS} s between`}
        />
        <Figure value={p.minutes.toFixed(0)} unit="min" words={`then soak ${p.soakMinutes} min`} />
      </dl>
      <p className="mt-8">
        At {p.rpm.toFixed(0)} rpm. Held back by {p.limitedBy}; film at most {p.peakFilmMl.toFixed(1)} of{' '}
        {p.limits.liquidMl.toFixed(1)} mL. Expect a dip of about {p.dipRpm} rpm a shot.
        {p.atZeroMlS !== undefined && p.atZeroMlS > 0 && (
          <> At regulator zero {p.atZeroMlS.toFixed(2)} mL/s still flows by vacuum alone: only the valve stops it.</>
        )}
      </p>
      <p className="mt-6 border-4 border-ink px-10 py-6">
        <b>STOP when</b> {p.stopSigns.join('; ')}.
      </p>
    </div>
  )
}

function Figure({ value, unit, words }: { value: string; unit: string; words: string }) {
  return (
    <div>
      <dd>
        <span className="fig text-bench leading-none tracking-normal">{value}</span>{' '}
        <span className="text-lead">{unit}</span>
      </dd>
      <dt className="text-small leading-snug text-soft">{words}</dt>
    </div>
  )
}

/** What it cleans and what it cannot, how it is shared, where the hands are, what stops it and how it is closed down. */
export function Reach({ plan: p }: { plan: FeedPlan }) {
  const m = methodInfo(p.method)
  return (
    <div className="mt-6 grid gap-4 text-small" data-testid="reach">
      <p>
        Reaches {p.reaches.join(', ')}. Not {p.misses.join(', ')}.
      </p>
      <p>
        Shared: {p.sharing}. The worst-placed cylinder is reckoned with {p.worstShare.toFixed(2)} times its part.
      </p>
      <p>
        Hands: {m.hands}. The engine: {m.engineDoes}.
      </p>
      <p className="border-l-6 border-l-ink pl-10">
        <b>Stopped by</b> {m.stoppedBy}. <b>Closed down:</b> {m.closeDown?.join('; ')}.
      </p>
    </div>
  )
}
