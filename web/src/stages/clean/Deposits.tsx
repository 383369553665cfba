import { figureText, lastRound, visitDeposits, type VisitFile } from '@uvula/core'

/** Needed, lost and left, as three figures and a sentence. */
export function Deposits({ file }: { file: VisitFile }) {
  const d = visitDeposits(file, lastRound(file))
  // where no opening is controlled, none can be lost that a reading would tell
  if (!d && file.vehicle.spec.idleControl === 'none') return null
  if (!d)
    return (
      <p className="text-soft text-small">
        Speed, opening and airflow (or pressure) at idle tell how much opening is lost; a recording with an overrun
        gives the closed reading.
      </p>
    )
  // a clean throttle that opens as far is not told from one that has lost something
  const told = d.lost && (d.lost.mm2.low > 0 || d.lost.mm2.high < 0)
  return (
    <div className="deposits">
      <div className="mb-8 gap-12 grid grid-cols-3">
        <p>
          <span className="fig text-share leading-none">{d.neededMm2.toFixed(0)}</span>{' '}
          <span className="text-small">mm² needed</span>
        </p>
        {d.lost && (
          <p>
            <span className="fig text-share leading-none">
              {told ? figureText(d.lost.mm2.median, 0) : `0–${figureText(d.lost.mm2.high, 0)}`}
            </span>{' '}
            <span className="text-small">
              {told ? (
                <>
                  mm² lost
                  <br />({figureText(d.lost.mm2.low, 0)} to {figureText(d.lost.mm2.high, 0)})
                </>
              ) : (
                'mm² lost, if any'
              )}
            </span>
          </p>
        )}
        <p>
          <span className="fig text-share leading-none">{(100 * d.authority).toFixed(0)}</span>{' '}
          <span className="text-small">% authority left</span>
        </p>
      </div>
      <p className="text-small">
        {d.why}{' '}
        {d.learnt || !d.lost
          ? ''
          : 'This car’s clean opening is not on record: the closed reading is taken as 0 %, so the figures are wide.'}
      </p>
    </div>
  )
}
