import { X } from 'lucide-react'
import type { UseFieldArrayReturn, UseFormReturn } from 'react-hook-form'
import type { OwnProblem, StepRule } from '@uvula/core'
import { Pick } from '../kit/Pick.js'
import { EMPTY_STEP, STEP_ENDS, type Draft } from './draft.js'
import { MORE } from './words.js'

/** The steps, each on one line: what is done, how it ends, its figures; Enter in the last one begins another. */
export function StepRows({
  form,
  rows,
  problemAt,
}: {
  form: UseFormReturn<Draft>
  rows: UseFieldArrayReturn<Draft, 'steps'>
  /** What is wrong with a step, 1 first. */
  problemAt: (step: number) => OwnProblem | undefined
}) {
  const next = (e: React.KeyboardEvent, i: number): void => {
    if (e.key !== 'Enter') return
    e.preventDefault()
    if (i === rows.fields.length - 1) rows.append(EMPTY_STEP)
    else form.setFocus(`steps.${i + 1}.say`)
  }
  return (
    <ol className="grid">
      {rows.fields.map((row, i) => {
        const kind = form.watch(`steps.${i}.kind`)
        const n = i + 1
        const wrong = problemAt(n)
        return (
          <li
            key={row.id}
            data-step={n}
            className="grid grid-cols-[30px_minmax(0,1fr)_150px_92px_112px_44px] items-center gap-x-10 border-b border-b-line py-4 narrow:grid-cols-[30px_1fr_1fr_44px]"
          >
            <span className="fig text-figure">{n}</span>
            <input
              className="field narrow:col-span-3"
              aria-label={`step ${n}: what is done`}
              placeholder="what is done, what is seen or heard"
              maxLength={140}
              {...form.register(`steps.${i}.say`)}
              onKeyDown={(e) => next(e, i)}
            />
            <Pick<StepRule['kind']>
              label={`step ${n}: how it ends`}
              value={kind}
              options={STEP_ENDS}
              onChange={(k) => form.setValue(`steps.${i}.kind`, k)}
              className="narrow:col-start-2"
            />
            <Small
              label={`step ${n}: seconds`}
              unit="s"
              field={form.register(`steps.${i}.seconds`)}
              onKey={(e) => next(e, i)}
            />
            {MORE[kind] ? (
              <Small
                label={`step ${n}: ${MORE[kind]}`}
                unit={MORE[kind]}
                field={form.register(`steps.${i}.more`)}
                onKey={(e) => next(e, i)}
              />
            ) : kind === 'until' ? (
              <input
                className="field"
                aria-label={`step ${n}: sign`}
                placeholder="the sign"
                maxLength={80}
                {...form.register(`steps.${i}.sign`)}
                onKeyDown={(e) => next(e, i)}
              />
            ) : (
              <span />
            )}
            <button
              type="button"
              className="grid h-tap w-tap place-items-center"
              aria-label={`take step ${n} out`}
              onClick={() => rows.remove(i)}
            >
              <X size={22} aria-hidden />
            </button>
            {wrong && (
              <p className="wrong col-span-full text-small" role="alert">
                {wrong.message}
              </p>
            )}
          </li>
        )
      })}
    </ol>
  )
}

function Small({
  label,
  unit,
  field,
  onKey,
}: {
  label: string
  unit?: string
  field: ReturnType<UseFormReturn<Draft>['register']>
  onKey: (e: React.KeyboardEvent) => void
}) {
  return (
    <span className="flex items-center gap-4">
      <input
        className="field fig min-w-0 text-right text-figure"
        inputMode="decimal"
        autoComplete="off"
        aria-label={label}
        {...field}
        onKeyDown={onKey}
      />
      <span className="whitespace-nowrap text-small text-soft">{unit}</span>
    </span>
  )
}
