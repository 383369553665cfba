import { readFillsTable, type FillRecord, type FillsTable as Read } from '@uvula/core'
import { useRef, useState } from 'react'
import { newId } from '../store/database.js'
import { writeShopRecord } from '../store/shopRecords.js'

/** Fills from a table: pasted, or a file saved from a spreadsheet; shown as read before any is kept. */
export function FillsTable({
  vehicleId,
  fills,
  onDone,
}: {
  vehicleId: string
  fills: readonly FillRecord[]
  onDone: () => void
}) {
  const [text, setText] = useState('')
  const file = useRef<HTMLInputElement>(null)
  const read = text.trim() ? attempt(text, fills) : undefined
  const table = typeof read === 'object' ? read : undefined
  const take = (): void => {
    for (const fill of table!.fills) writeShopRecord('fills', `${vehicleId}:fill:${newId()}`, 0, { vehicleId, ...fill })
    onDone()
  }
  return (
    <div className="my-8 grid gap-8 border-l-6 border-l-line pl-12">
      <label className="grid gap-4 text-small text-soft">
        paste rows of date, odometer in km, litres and “full”, or choose a file
        <textarea
          className="field h-auto min-h-[120px] py-8 text-ink"
          aria-label="table of fills"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      <input
        ref={file}
        type="file"
        className="hidden"
        aria-label="file with fills"
        accept=".csv,.txt,.tsv,text/csv,text/plain"
        onChange={(e) => void e.target.files?.[0]?.text().then(setText)}
      />
      <button type="button" className="act justify-self-start" onClick={() => file.current?.click()}>
        choose a file
      </button>
      {typeof read === 'string' && (
        <p className="wrong" role="alert">
          {read}
        </p>
      )}
      {table && (
        <>
          <p>
            {`${count(table.fills.length, 'fill')} read`}
            {table.known > 0 ? `, ${table.known} here already` : ''}
            {table.refused.length > 0 ? `, ${count(table.refused.length, 'row')} left out:` : '.'}
          </p>
          <ul className="text-small">
            {table.refused.map((r) => (
              <li key={r.line}>
                row {r.line} ({r.text}): {r.why}
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="flex gap-12">
        <button type="button" className="act strong" disabled={!table?.fills.length} onClick={take}>
          {table?.fills.length ? `add ${count(table.fills.length, 'fill')}` : 'add'}
        </button>
        <button type="button" className="act" onClick={onDone}>
          leave it
        </button>
      </div>
    </div>
  )
}

const count = (n: number, what: string): string => `${n} ${what}${n === 1 ? '' : 's'}`

function attempt(text: string, fills: readonly FillRecord[]): Read | string {
  try {
    return readFillsTable(text, fills)
  } catch (e) {
    return (e as Error).message
  }
}
