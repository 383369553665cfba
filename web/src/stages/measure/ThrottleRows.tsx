import { formatIn, spreadOf, turnWords, type BalanceRecord, type ThrottlesTaken, type Unit } from '@uvula/core'

type Row = BalanceRecord & { readonly taken: ThrottlesTaken }

/** Rows that were read, newest first, each with what was turned before it. */
export function ThrottleRows({
  rows,
  unit,
  where,
  onLeaveOut,
}: {
  rows: readonly Row[]
  unit: Unit
  where: string
  onLeaveOut: (id: string) => void
}) {
  return (
    <>
      <h2 className="text-small text-soft">rows read {where}, newest first</h2>
      {!rows.length && <p>Read all at one speed, one after the other, on the same gauge.</p>}
      <ol>
        {[...rows].reverse().map((r) => (
          <li key={r.id} className="border-b border-b-line py-6 leading-tight">
            <span className="fig">{r.taken.vacuumKpa.map((x) => formatIn(x, unit)).join('  ·  ')}</span>{' '}
            <span className="text-small text-soft">{unit.symbol}</span>
            <span className="flex items-center justify-between gap-12 text-small">
              <span>
                spread {formatIn(spreadOf(r.taken.vacuumKpa), unit)} {unit.symbol}
                {r.taken.turned
                  ? `, after ${r.taken.turned.turns > 0 ? 'opening' : 'closing'} ${r.taken.turned.adjuster.replace('-', ' ')} ${turnWords(r.taken.turned.turns)}`
                  : ''}
                {r.againstRule ? `; against the rule “${r.againstRule.replace(/-/g, ' ')}”` : ''}
              </span>
              <button type="button" className="whitespace-nowrap text-soft" onClick={() => onLeaveOut(r.id)}>
                leave out
              </button>
            </span>
          </li>
        ))}
      </ol>
    </>
  )
}
