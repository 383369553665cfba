import { lazy, Suspense, useState } from 'react'
import { economyOf, fillProblem, type FillRecord } from '@uvula/core'
import { X } from 'lucide-react'
import { Tick } from '../kit/Tick.js'
import { newId } from '../store/database.js'
import { writeShopRecord } from '../store/shopRecords.js'

// a table is read seldom: its parser comes when it is asked for
const FillsTable = lazy(() => import('./FillsTable.js').then((m) => ({ default: m.FillsTable })))

const today = (): string => new Date().toISOString().slice(0, 10)
const figure = (text: string): number => Number(text.trim().replace(',', '.').replace(/\s/g, '') || NaN)

/** Tanks filled over the weeks, and what they say of the work: before, after, the season's share named. */
export function Fills({
  vehicleId,
  fills,
  workedOn,
}: {
  vehicleId: string
  fills: readonly FillRecord[]
  /** Day of the last work on it, yyyy-mm-dd; undefined where none was done. */
  workedOn?: string
}) {
  const [on, setOn] = useState(today)
  const [km, setKm] = useState('')
  const [litres, setLitres] = useState('')
  const [full, setFull] = useState(true)
  const [problem, setProblem] = useState<string>()
  const [table, setTable] = useState(false)
  const sorted = [...fills].sort((a, b) => b.odometerKm - a.odometerKm)
  const economy = workedOn ? economyOf(fills, workedOn) : undefined
  const add = (): void => {
    const fill = { vehicleId, on, odometerKm: figure(km), litres: figure(litres), full }
    const wrong = fillProblem(fill, fills)
    setProblem(wrong)
    if (wrong) return
    writeShopRecord('fills', `${vehicleId}:fill:${newId()}`, 0, fill)
    setKm('')
    setLitres('')
  }
  return (
    <section aria-label="fills" className="mt-20">
      <h2 className="text-small text-soft">tanks filled; two to the brim make one tank</h2>
      {economy && fills.length > 0 && (
        <p className="my-8 text-lead" data-economy={economy.verdict}>
          {economy.say}
        </p>
      )}
      <form
        className="grid grid-cols-[150px_1fr_1fr_auto_auto] items-end gap-10 narrow:grid-cols-2"
        onSubmit={(e) => {
          e.preventDefault()
          add()
        }}
      >
        <input
          className="field"
          type="date"
          aria-label="filled on"
          value={on}
          onChange={(e) => setOn(e.target.value)}
        />
        <input
          className="field fig text-right text-figure"
          inputMode="decimal"
          aria-label="odometer, km"
          placeholder="km"
          value={km}
          onChange={(e) => setKm(e.target.value)}
        />
        <input
          className="field fig text-right text-figure"
          inputMode="decimal"
          aria-label="litres"
          placeholder="litres"
          value={litres}
          onChange={(e) => setLitres(e.target.value)}
        />
        <Tick checked={full} onChange={setFull}>
          to the brim
        </Tick>
        <button type="submit" className="act strong">
          add
        </button>
      </form>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
      {table ? (
        <Suspense fallback={null}>
          <FillsTable vehicleId={vehicleId} fills={fills} onDone={() => setTable(false)} />
        </Suspense>
      ) : (
        <button type="button" className="act my-8" onClick={() => setTable(true)}>
          from a table
        </button>
      )}
      <ul>
        {sorted.map((f) => (
          <li
            key={f.id}
            className="grid grid-cols-[120px_1fr_1fr_1fr_44px] items-center gap-10 border-b border-b-line narrow:grid-cols-[1fr_1fr_44px] narrow:gap-x-8 narrow:gap-y-0"
            data-fill={f.on}
          >
            <span>{f.on}</span>
            <span className="fig text-right text-lead">{f.odometerKm.toLocaleString('en')} km</span>
            <span className="fig text-right text-lead">{f.litres.toFixed(1)} L</span>
            <span className="text-small text-soft narrow:order-last narrow:text-right">
              {f.full ? 'to the brim' : 'part'}
            </span>
            <button
              type="button"
              className="grid h-tap w-tap place-items-center"
              aria-label={`take the fill of ${f.on} off`}
              onClick={() => {
                const { vehicleId: v, on: day, odometerKm, litres: l, full: brim } = f
                writeShopRecord('fills', f.id, f.version, {
                  vehicleId: v,
                  on: day,
                  odometerKm,
                  litres: l,
                  full: brim,
                  deleted: true,
                })
              }}
            >
              <X size={20} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
