import { useState } from 'react'
import { confirm, questionsOf, withAnswer, type EngineQuestion, type Vehicle } from '@uvula/core'

/** Questions of an arrival: what differs most often and changes most. */
export const FEW = ['cylinders', 'displacementL', 'metering', 'throttle', 'induction', 'injection', 'egr'] as const

/** What an engine is asked, one line an answer: a choice turns with each tap, a figure is typed. */
export function EngineAnswers({
  vehicle,
  onChange,
  only,
  className = 'grid grid-cols-[1fr_1.25fr] gap-x-12 text-small',
}: {
  vehicle: Vehicle
  onChange: (v: Vehicle) => void
  /** The questions that are shown; all of this engine when left out. */
  only?: readonly string[]
  className?: string
}) {
  const asked = questionsOf(vehicle).filter((q) => !only || only.includes(q.id))
  const groups = [...new Set(asked.map((q) => q.group))]
  return only ? (
    <ul className={className}>
      {asked.map((q) => (
        <Answer key={q.id} q={q} vehicle={vehicle} onChange={onChange} compact />
      ))}
    </ul>
  ) : (
    <div className={className}>
      {groups.map((g) => (
        <section key={g} aria-label={g}>
          <h3 className="border-b-2 border-b-ink text-small text-soft">{g}</h3>
          <ul>
            {asked
              .filter((q) => q.group === g)
              .map((q) => (
                <Answer key={q.id} q={q} vehicle={vehicle} onChange={onChange} />
              ))}
          </ul>
        </section>
      ))}
    </div>
  )
}

function Answer({
  q,
  vehicle,
  onChange,
  compact = false,
}: {
  q: EngineQuestion
  vehicle: Vehicle
  onChange: (v: Vehicle) => void
  /** Where there is little room: a guess is told where all of it is seen. */
  compact?: boolean
}) {
  if (q.kind === 'number') return <Figure q={q} vehicle={vehicle} onChange={onChange} compact={compact} />
  const at = q.choices.findIndex((c) => c.value === q.get(vehicle))
  const turn = (by: number): void =>
    onChange(withAnswer(vehicle, q.id, q.choices[(Math.max(0, at) + by + q.choices.length) % q.choices.length].value))
  const value = q.choices[at]?.label ?? 'not said'
  return (
    <li className="border-b border-b-line">
      <button
        type="button"
        className="flex min-h-tap w-full items-center justify-between gap-8 text-left leading-tight"
        aria-label={`${q.label}: ${value}`}
        data-question={q.id}
        onClick={() => turn(1)}
        onKeyDown={(e) => {
          const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key]
          if (by === undefined) return
          e.preventDefault()
          turn(by)
        }}
      >
        <span className="text-soft">{q.label}</span> <b className="text-right">{value}</b>
      </button>
    </li>
  )
}

function Figure({
  q,
  vehicle,
  onChange,
  compact,
}: {
  q: Extract<EngineQuestion, { kind: 'number' }>
  vehicle: Vehicle
  onChange: (v: Vehicle) => void
  compact: boolean
}) {
  const [draft, setDraft] = useState<string>()
  const [problem, setProblem] = useState<string>()
  const value = q.get(vehicle)
  const guess = !compact && q.confirms !== undefined && !vehicle.confirmed?.includes(q.confirms)
  const keep = (): void => {
    if (draft === undefined) return
    const typed = Number(draft.trim().replace(',', '.'))
    if (draft.trim() === '' || !(typed >= q.min && typed <= q.max && (!q.whole || Number.isInteger(typed))))
      return setProblem(`${q.label}: ${q.whole ? 'a whole number, ' : ''}${q.min} to ${q.max} ${q.unit}`.trim())
    setProblem(undefined)
    setDraft(undefined)
    onChange(withAnswer(vehicle, q.id, typed))
  }
  const id = `answer-${q.id}`
  return (
    <li className="border-b border-b-line">
      <div className="flex min-h-tap items-center gap-8">
        {guess ? (
          <button
            type="button"
            className="min-h-tap min-w-0 flex-1 border-2 border-dashed border-ink px-6 text-left leading-tight"
            onClick={() => onChange(confirm(vehicle, q.confirms!))}
          >
            <span className="text-soft">{q.label}</span> <b className="block">a guess: right?</b>
          </button>
        ) : (
          <label htmlFor={id} className="min-w-0 flex-1 text-soft">
            {q.label}
            {compact && q.unit ? `, ${q.unit}` : ''}
          </label>
        )}
        <input
          id={id}
          className={`field fig text-right text-figure ${compact ? 'w-52' : 'w-64'}`}
          inputMode="decimal"
          autoComplete="off"
          aria-label={guess ? q.label : undefined}
          data-question={q.id}
          data-confirmed={q.confirms && vehicle.confirmed?.includes(q.confirms) === true}
          value={draft ?? String(value)}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={keep}
          onKeyDown={(e) => e.key === 'Enter' && keep()}
        />
        {q.unit && !compact && <span className="w-30 text-soft">{q.unit}</span>}
      </div>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
    </li>
  )
}
