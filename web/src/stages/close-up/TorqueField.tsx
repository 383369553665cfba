import { useState } from 'react'
import { TORQUE_UNITS, type ItemMore, type ItemRecord, type Torque } from '@uvula/core'
import { Choose } from '../../kit/Choose.js'

/** A torque as somebody read it, with where from; without one it stays unknown, and no figure is made up. */
export function TorqueField({ item, onMore }: { item: ItemRecord; onMore: (part: Partial<ItemMore>) => void }) {
  const known = item.more?.torque
  const [draft, setDraft] = useState<string>()
  const [unit, setUnit] = useState<Torque['unit']>(known?.unit ?? 'N·m')
  const [from, setFrom] = useState<Torque['from']>(known?.from ?? 'book')
  const [problem, setProblem] = useState<string>()
  const keep = (text: string | undefined, u: Torque['unit'], f: Torque['from']): void => {
    if (text === undefined && !known) return
    if (text !== undefined && text.trim() === '') {
      setDraft(undefined)
      return onMore({ torque: undefined })
    }
    const value = text === undefined ? known!.value : Number(text.trim().replace(',', '.'))
    if (!(value > 0 && value <= 1000)) return setProblem('A torque is a number above 0 and at most 1000.')
    setProblem(undefined)
    setDraft(undefined)
    onMore({ torque: { value, unit: u, from: f } })
  }
  return (
    <div className="flex flex-wrap items-center gap-8" data-torque={item.name}>
      <label className="text-small" htmlFor={`torque-${item.id}`}>
        torque
      </label>
      <input
        id={`torque-${item.id}`}
        className="field fig w-76 text-right text-figure"
        inputMode="decimal"
        autoComplete="off"
        placeholder="—"
        value={draft ?? known?.value ?? ''}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={() => draft !== undefined && keep(draft, unit, from)}
        onKeyDown={(e) => e.key === 'Enter' && keep(draft, unit, from)}
      />
      <Choose
        label="torque unit"
        look="line"
        className="flex gap-4"
        itemClass="min-w-tap px-4"
        value={unit}
        choices={TORQUE_UNITS.map((u) => ({ value: u, label: u }))}
        onChange={(u) => (setUnit(u), keep(draft, u, from))}
      />
      <Choose
        label="torque from"
        look="line"
        className="flex gap-4"
        itemClass="min-w-tap px-4"
        value={from}
        choices={[
          { value: 'book', label: 'book' },
          { value: 'label', label: 'label' },
          { value: 'generic', label: 'generic' },
        ]}
        onChange={(f) => (setFrom(f), keep(draft, unit, f))}
      />
      {problem && (
        <p className="wrong w-full text-small" role="alert">
          {problem}
        </p>
      )}
    </div>
  )
}
