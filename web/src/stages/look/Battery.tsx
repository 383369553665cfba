import { useState } from 'react'
import { batterySaid, parseTyped, QUANTITIES, type Slot, type VisitFile } from '@uvula/core'
import { FieldRow } from '../../kit/FieldRow.js'
import { useWriter } from '../../store/visit.js'

const VOLTS = QUANTITIES.voltage.units[0]

/** The battery by its two voltages: part of the free checks, first of all where it starts hard. */
export function Battery({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({})
  const [problem, setProblem] = useState<string>()
  const b = batterySaid(file)
  const keep = (slot: Slot): void => {
    const text = typed[slot]
    if (text === undefined || text.trim() === '') return
    const read = parseTyped(text, 'voltage', VOLTS)
    if (!read.ok) return setProblem(read.message)
    if (!(read.value >= 3 && read.value <= 16)) return setProblem('A battery of a car has 3 to 16 V.')
    setProblem(undefined)
    setTyped({ ...typed, [slot]: '' })
    write('readings', `${file.visit.id}:0:${slot}:battery_v`, {
      visitId: file.visit.id,
      round: 0,
      slot,
      channel: 'battery_v',
      value: read.value,
      typed: text.trim(),
    })
  }
  return (
    <section
      className="mt-14 max-w-640 border-t-2 border-t-ink pt-6"
      aria-label="battery"
      data-battery={b.verdict ?? 'unread'}
    >
      <p>
        <b>battery</b> <span className="text-small text-soft">terminals tight and clean, hold-down on</span>
      </p>
      <ol>
        {(
          [
            ['key-on', 'at rest', b.restingV],
            ['cranking', 'cranking', b.crankingV],
          ] as const
        ).map(([slot, label, value]) => (
          <FieldRow
            key={slot}
            id={`battery-${slot}`}
            label={label}
            unit="V"
            value={typed[slot] || (value === undefined ? '' : value.toFixed(1))}
            onText={(text) => setTyped({ ...typed, [slot]: text })}
            onBlur={() => keep(slot)}
            onEnter={() => keep(slot)}
          />
        ))}
      </ol>
      {problem ? (
        <p className="wrong" role="alert">
          {problem}
        </p>
      ) : (
        <p className={b.verdict === 'weak' ? 'border-l-6 border-l-ink pl-10' : 'text-small'}>{b.said}</p>
      )}
    </section>
  )
}
