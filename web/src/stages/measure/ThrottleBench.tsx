import { useState } from 'react'
import {
  formatIn,
  parseTyped,
  roundToFill,
  takenOf,
  throttleAdvice,
  turnWords,
  type ThrottleLayoutId,
  type ThrottlesTaken,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { newId } from '../../store/database.js'
import { useUnit } from '../../store/settings.js'
import { useWriter } from '../../store/visit.js'

const SLOT_WORDS = { idle: 'at idle', 'hold-2500': 'at 2500' } as const

/** Throttles against each other: the row that was read, how far it is out, which screw, which way, about how far. */
export function ThrottleBench({ file }: { file: VisitFile }) {
  const { write, remove } = useWriter(file)
  const n = Math.min(12, file.vehicle.spec.throttleBodies)
  const unit = useUnit('pressure')
  const all = takenOf(file.balances, 'throttles')
  const [slot, setSlot] = useState<ThrottlesTaken['slot']>('hold-2500')
  const [layout, setLayout] = useState<ThrottleLayoutId>(all.at(-1)?.taken.layout ?? 'each')
  const rows = all.filter((b) => b.taken.slot === slot && b.taken.layout === layout && b.taken.vacuumKpa.length === n)
  const [typed, setTyped] = useState<readonly string[]>([])
  const [problem, setProblem] = useState<string>()
  const [turned, setTurned] = useState<number>()
  const linkageDone = all.some(
    (b, i) =>
      b.taken.slot === 'hold-2500' &&
      !all.slice(i + 1).some((x) => x.taken.slot === 'hold-2500') &&
      throttleAdvice(b.taken.layout, [b.taken]).balanced,
  )
  const last = rows.at(-1)
  const advice = rows.length
    ? throttleAdvice(
        layout,
        rows.map((r) => r.taken),
      )
    : undefined
  const keep = (): void => {
    const row: number[] = []
    for (let i = 0; i < n; i++) {
      const read = parseTyped(typed[i] ?? '', 'pressure', unit)
      if (!read.ok) return setProblem(`Throttle ${i + 1}: ${read.message}`)
      if (!(read.value >= 0 && read.value <= 105)) return setProblem(`Throttle ${i + 1}: 0 to 105 kPa is a vacuum.`)
      row.push(read.value)
    }
    setProblem(undefined)
    setTyped([])
    setTurned(undefined)
    write('balances', `${file.visit.id}:throttles:${newId()}`, {
      visitId: file.visit.id,
      round: roundToFill(file),
      taken: {
        kind: 'throttles',
        slot,
        layout,
        vacuumKpa: row,
        ...(turned !== undefined && advice?.adjuster
          ? { turned: { adjuster: advice.adjuster.id, turns: turned } }
          : {}),
      },
    })
  }
  const row = last?.taken.vacuumKpa
  const low = row ? Math.min(...row) : 0
  const high = row ? Math.max(...row) : 1
  const bypassFirst = slot === 'idle' && !linkageDone
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(300px,0.8fr)] gap-gap py-8 narrow:grid-cols-1">
      <section>
        <div className="mb-8 flex flex-wrap gap-8">
          <Choose
            label="speed"
            look="box"
            className="flex gap-4"
            value={slot}
            choices={[
              { value: 'hold-2500', label: '1. linkage, 2500' },
              { value: 'idle', label: '2. bypass, idle' },
            ]}
            onChange={setSlot}
          />
          {n === 4 && (
            <Choose
              label="linkage"
              look="box"
              className="flex gap-4"
              value={layout}
              choices={[
                { value: 'each', label: 'own screws' },
                { value: 'pairs', label: 'pairs' },
              ]}
              onChange={setLayout}
            />
          )}
        </div>
        {bypassFirst ? (
          <p className="wrong" role="alert">
            Linkage first: balance at 2500, then the bypass screws, then the mixture. A bypass screw that makes up for a
            linkage is wrong at every other opening.
          </p>
        ) : (
          <>
            {advice && (
              <p
                className={`mb-8 border-l-6 pl-12 text-figure leading-tight ${advice.balanced ? 'border-l-line' : 'border-l-ink'}`}
                role="status"
                data-balanced={advice.balanced}
                data-adjuster={advice.adjuster?.id}
                data-turns={advice.turns}
              >
                {advice.say}
              </p>
            )}
            <ol className="mb-8 grid" aria-label="throttles">
              {Array.from({ length: n }, (_, i) => (
                <li key={i} className="grid min-h-tap grid-cols-[90px_100px_34px_minmax(60px,1fr)] items-center gap-8">
                  <label htmlFor={`throttle-${i}`}>throttle {i + 1}</label>
                  <input
                    id={`throttle-${i}`}
                    className="field fig text-figure text-right"
                    inputMode="decimal"
                    autoComplete="off"
                    value={typed[i] ?? ''}
                    placeholder={row ? formatIn(row[i], unit) : ''}
                    onChange={(e) =>
                      setTyped(Array.from({ length: n }, (_, j) => (j === i ? e.target.value : (typed[j] ?? ''))))
                    }
                    onKeyDown={(e) => e.key === 'Enter' && keep()}
                  />
                  <span className="text-small text-soft">{unit.symbol}</span>
                  {row && (
                    <svg className="h-24 w-full" preserveAspectRatio="none" viewBox="0 0 100 10" aria-hidden="true">
                      <rect
                        className="fill-ink"
                        x="0"
                        y="1"
                        height="8"
                        width={12 + (88 * (row[i] - low)) / Math.max(1, high - low)}
                      />
                    </svg>
                  )}
                </li>
              ))}
            </ol>
            {problem && (
              <p className="wrong" role="alert">
                {problem}
              </p>
            )}
            {advice?.adjuster && (
              <div className="mb-8 flex flex-wrap items-center gap-8">
                <span className="text-small">turned {advice.adjuster.label}:</span>
                {[0.5, 1, 1.5].map((share) => {
                  const turns =
                    Math.sign(advice.turns!) * Math.max(1 / 16, Math.round(16 * Math.abs(advice.turns!) * share) / 16)
                  return (
                    <button
                      key={share}
                      type="button"
                      className="act"
                      aria-pressed={turned === turns}
                      onClick={() => setTurned(turned === turns ? undefined : turns)}
                    >
                      {turns > 0 ? 'opened' : 'closed'} {turnWords(turns)}
                    </button>
                  )
                })}
              </div>
            )}
            <button
              type="button"
              className="act strong w-full justify-center"
              disabled={typed.every((x) => !x.trim())}
              onClick={keep}
            >
              keep this row, {SLOT_WORDS[slot]}
            </button>
          </>
        )}
      </section>
      <section>
        <h2 className="text-small text-soft">rows read {SLOT_WORDS[slot]}, newest first</h2>
        {!rows.length && <p>Read all {n} at one speed, one after the other, on the same gauge.</p>}
        <ol>
          {[...rows].reverse().map((r) => (
            <li key={r.id} className="border-b border-b-line py-6 leading-tight">
              <span className="fig">{r.taken.vacuumKpa.map((x) => formatIn(x, unit)).join('  ·  ')}</span>{' '}
              <span className="text-small text-soft">{unit.symbol}</span>
              <span className="flex items-center justify-between text-small">
                <span>
                  spread {formatIn(Math.max(...r.taken.vacuumKpa) - Math.min(...r.taken.vacuumKpa), unit)}
                  {r.taken.turned
                    ? `, after ${r.taken.turned.turns > 0 ? 'opening' : 'closing'} ${r.taken.turned.adjuster} ${turnWords(r.taken.turned.turns)}`
                    : ''}
                </span>
                <button type="button" className="text-soft" onClick={() => remove('balances', r.id)}>
                  leave out
                </button>
              </span>
            </li>
          ))}
        </ol>
      </section>
    </div>
  )
}
