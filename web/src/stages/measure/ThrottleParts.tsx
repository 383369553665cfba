import {
  formatIn,
  handTurn,
  spreadOf,
  turnWords,
  type ThrottleAdvice,
  type ThrottlesTaken,
  type Unit,
  type VisitFile,
} from '@uvula/core'
import { FieldRow } from '../../kit/FieldRow.js'
import { useCard } from '../../store/visit.js'
import { sayDay } from '../../words/format.js'

/** How far apart they were left the last time, and how far they have gone since. */
export function Drift({
  file,
  slot,
  unit,
  now,
}: {
  file: VisitFile
  slot: ThrottlesTaken['slot']
  unit: Unit
  now: readonly number[] | undefined
}) {
  const { card } = useCard(file.vehicle.id)
  const last = card?.balances?.find((b) => b.visitId !== file.visit.id && b.slot === slot)
  if (!last) return null
  const by = now && spreadOf(now) - last.spreadKpa
  return (
    <p className="mb-14 border-l-6 border-l-line pl-10" data-testid="drift">
      Left {formatIn(last.spreadKpa, unit)} {unit.symbol} apart on {sayDay(last.openedAt)}
      {by === undefined
        ? '.'
        : `; now ${formatIn(spreadOf(now!), unit)}: ${by > 0 ? `${formatIn(by, unit)} further` : 'no further'} apart.`}
    </p>
  )
}

/** Which screw, which way, about how far: the biggest thing of the bench. */
export function Advice({ advice }: { advice: ThrottleAdvice }) {
  return (
    <div
      className={`mb-8 border-l-6 pl-12 ${advice.balanced ? 'border-l-line' : 'border-l-ink'}`}
      role="status"
      data-balanced={advice.balanced}
      data-adjuster={advice.adjuster?.id}
      data-turns={advice.turns}
    >
      <p className="text-figure leading-tight">{advice.say}</p>
      {advice.why && <p className="text-small">{advice.why}</p>}
    </div>
  )
}

/** A bar a throttle, from the least to the greatest: what is read now, or the last row behind what is typed. */
export function Bars({
  n,
  shown,
  live,
  unit,
  typed,
  onType,
  onEnter,
}: {
  n: number
  shown: readonly number[] | undefined
  live: boolean
  unit: Unit
  typed: readonly string[]
  onType: (typed: readonly string[]) => void
  onEnter: () => void
}) {
  const low = shown ? Math.min(...shown) : 0
  const high = shown ? Math.max(...shown) : 1
  return (
    <ol className="mb-8 grid" aria-label="throttles">
      {Array.from({ length: n }, (_, i) => (
        <FieldRow
          key={i}
          id={`throttle-${i}`}
          label={`throttle ${i + 1}`}
          unit={unit.symbol}
          output={live && shown ? formatIn(shown[i], unit) : undefined}
          value={typed[i] ?? ''}
          placeholder={shown ? formatIn(shown[i], unit) : ''}
          onText={(text) => onType(Array.from({ length: n }, (_, j) => (j === i ? text : (typed[j] ?? ''))))}
          onEnter={onEnter}
        >
          {shown && (
            <svg className="h-24 w-full" preserveAspectRatio="none" viewBox="0 0 100 10" aria-hidden="true">
              <rect
                className="fill-ink"
                x="0"
                y="1"
                height="8"
                width={12 + (88 * (shown[i] - low)) / Math.max(1, high - low)}
              />
            </svg>
          )}
        </FieldRow>
      ))}
    </ol>
  )
}

/** What was turned since the last row: as advised, half of it, or half as much again. */
export function Turns({
  advice,
  turned,
  onTurn,
}: {
  advice: ThrottleAdvice
  turned: number | undefined
  onTurn: (turns: number) => void
}) {
  const offered = [0.5, 1, 1.5].map((share) => (share === 1 ? advice.turns! : handTurn(advice.turns! * share)))
  return (
    <div className="mb-8 flex flex-wrap items-center gap-8">
      <span className="w-full text-small">turned {advice.adjuster!.label}:</span>
      {[...new Set(offered)].map((turns) => (
        <button
          key={turns}
          type="button"
          className="act"
          aria-pressed={turned === turns}
          data-advised={turns === advice.turns}
          onClick={() => onTurn(turns)}
        >
          {turns > 0 ? 'opened' : 'closed'} {turnWords(turns)}
        </button>
      ))}
    </div>
  )
}
