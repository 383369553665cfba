import { useRef, useState } from 'react'
import { parseTyped, QUANTITIES, standardPressurePa, type QuantityId, type VisitFile } from '@uvula/core'
import { ownFields, useWriter } from '../store/visit.js'
import { useFormat } from '../words/format.js'

const FIELDS: readonly {
  readonly key: 'altitudeM' | 'ambientC' | 'baroKpa' | 'odometerKm'
  readonly label: string
  readonly quantity: QuantityId
  readonly min: number
  readonly max: number
  readonly optional?: boolean
}[] = [
  { key: 'altitudeM', label: 'altitude', quantity: 'altitude', min: -450, max: 5500 },
  { key: 'ambientC', label: 'outside air', quantity: 'temperature', min: -40, max: 60 },
  { key: 'baroKpa', label: 'barometer, if trusted', quantity: 'pressure', min: 45, max: 110, optional: true },
  { key: 'odometerKm', label: 'odometer', quantity: 'distance', min: 0, max: 3_000_000, optional: true },
]

/** Place and weather of the visit: where pressures are judged. */
export function PlaceDialog({ file, pressureKpa }: { file: VisitFile; pressureKpa: number }) {
  const dialog = useRef<HTMLDialogElement>(null)
  const format = useFormat()
  const { write } = useWriter(file)
  const [problem, setProblem] = useState<string>()
  const { visit } = file
  const save = (f: (typeof FIELDS)[number], text: string): void => {
    if (text.trim() === '' && f.optional) {
      const { [f.key]: _, ...rest } = ownFields(visit)
      setProblem(undefined)
      return write('visits', visit.id, rest)
    }
    const typed = parseTyped(text, f.quantity, QUANTITIES[f.quantity].units[0])
    if (!typed.ok) return setProblem(typed.message)
    if (!(typed.value >= f.min && typed.value <= f.max))
      return setProblem(`${f.label}: ${f.min} to ${f.max} is accepted.`)
    setProblem(undefined)
    if (visit[f.key] !== typed.value) write('visits', visit.id, { ...ownFields(visit), [f.key]: typed.value })
  }
  return (
    <>
      <button
        type="button"
        className="place whitespace-nowrap narrow:order-9 narrow:ml-16 narrow:min-h-36"
        onClick={() => dialog.current?.showModal()}
      >
        {format('altitude', visit.altitudeM)}, {format('pressure', pressureKpa)},{' '}
        {format('temperature', visit.ambientC)}
      </button>
      <dialog ref={dialog} aria-label="place and weather">
        <h2 className="name">Place and weather</h2>
        <p className="text-soft text-small">
          Pressures are judged here, not at sea level. The standard atmosphere at {visit.altitudeM} m has{' '}
          {(standardPressurePa(visit.altitudeM) / 1000).toFixed(1)} kPa.
        </p>
        {FIELDS.map((f) => (
          <label key={f.key} className="gap-8 grid grid-cols-[190px_130px_40px] items-center">
            <span>{f.label}</span>
            <input
              className="field fig text-figure"
              inputMode="decimal"
              defaultValue={visit[f.key] ?? ''}
              onBlur={(e) => save(f, e.target.value)}
            />
            <span className="text-soft text-small">{QUANTITIES[f.quantity].units[0].symbol}</span>
          </label>
        ))}
        {problem && <p className="wrong text-small">{problem}</p>}
        <button type="button" className="act strong" onClick={() => dialog.current?.close()}>
          close
        </button>
      </dialog>
    </>
  )
}
