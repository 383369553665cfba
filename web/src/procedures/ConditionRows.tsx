import { Plus, X } from 'lucide-react'
import type { UseFieldArrayReturn, UseFormReturn } from 'react-hook-form'
import { type ChannelId } from '@uvula/core'
import { Pick } from '../kit/Pick.js'
import { Tick } from '../kit/Tick.js'
import { EMPTY_CONDITION, type Draft } from './draft.js'
import { BY } from './words.js'

/** What must hold before it is armed: ticked by a hand, or told by a reading within its bounds. */
export function ConditionRows({
  form,
  rows,
}: {
  form: UseFormReturn<Draft>
  rows: UseFieldArrayReturn<Draft, 'conditions'>
}) {
  return (
    <section aria-label="conditions">
      <h2 className="text-small text-soft">before it is armed</h2>
      <ul>
        {rows.fields.map((row, i) => {
          const n = i + 1
          const channel = form.watch(`conditions.${i}.channel`)
          const stop = form.watch(`conditions.${i}.stop`)
          return (
            <li
              key={row.id}
              className="grid grid-cols-[minmax(0,1fr)_auto_210px_76px_76px_44px] items-center gap-x-10 border-b border-b-line py-4 narrow:grid-cols-[1fr_auto_44px]"
            >
              <input
                className="field"
                aria-label={`condition ${n}`}
                placeholder="what holds"
                maxLength={100}
                {...form.register(`conditions.${i}.label`)}
              />
              <Tick
                checked={stop}
                onChange={(on) => {
                  form.setValue(`conditions.${i}.stop`, on)
                  // no reading stands for a STOP
                  if (on) form.setValue(`conditions.${i}.channel`, 'none')
                }}
              >
                STOP
              </Tick>
              <Pick<ChannelId | 'none'>
                label={`condition ${n}: told by`}
                value={channel}
                options={BY}
                onChange={(c) => {
                  form.setValue(`conditions.${i}.channel`, c)
                  if (c !== 'none') form.setValue(`conditions.${i}.stop`, false)
                }}
              />
              {channel === 'none' ? (
                <>
                  <span />
                  <span />
                </>
              ) : (
                (['min', 'max'] as const).map((end) => (
                  <input
                    key={end}
                    className="field fig text-right text-figure"
                    inputMode="decimal"
                    aria-label={`condition ${n}: ${end === 'min' ? 'from' : 'to'}`}
                    placeholder={end === 'min' ? 'from' : 'to'}
                    {...form.register(`conditions.${i}.${end}`)}
                  />
                ))
              )}
              <button
                type="button"
                className="grid h-tap w-tap place-items-center"
                aria-label={`take condition ${n} out`}
                onClick={() => rows.remove(i)}
              >
                <X size={22} aria-hidden />
              </button>
            </li>
          )
        })}
      </ul>
      <button type="button" className="act mt-8" onClick={() => rows.append(EMPTY_CONDITION)}>
        <Plus size={20} aria-hidden /> a condition
      </button>
    </section>
  )
}
