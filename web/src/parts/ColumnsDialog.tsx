import { useEffect, useRef, useState } from 'react'
import { CHANNELS, type ChannelId, type ColumnGuess, type Mapping } from '@uvula/core'
import './columns.css'

const KEY = 'uvula-mappings'
const headerKey = (columns: readonly ColumnGuess[]): string => columns.map((c) => c.label).join('|')

function allMappings(): Record<string, Mapping> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, Mapping>
  } catch {
    return {}
  }
}

/** What was said before about a header with the same labels. */
export const rememberedMapping = (columns: readonly ColumnGuess[]): Mapping | undefined =>
  allMappings()[headerKey(columns)]

function remember(columns: readonly ColumnGuess[], mapping: Mapping): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...allMappings(), [headerKey(columns)]: mapping }))
  } catch {
    // a browser that keeps nothing asks again next time
  }
}

/** Asks what the columns of a file are, with their first values; only what is not sure has to be said. */
export function ColumnsDialog({
  name,
  why,
  columns,
  onRead,
  onClose,
}: {
  name: string
  why: string
  columns: readonly ColumnGuess[]
  onRead: (mapping: Mapping) => void
  onClose: () => void
}) {
  const dialog = useRef<HTMLDialogElement>(null)
  const [chosen, setChosen] = useState<Record<number, ChannelId | 'none'>>(() =>
    Object.fromEntries(columns.map((c) => [c.at, c.channel ?? c.candidates[0]?.channel ?? 'none'])),
  )
  useEffect(() => dialog.current?.showModal(), [])
  const mapping: Mapping = Object.fromEntries(columns.map((c) => [c.label, chosen[c.at]]))
  const used = Object.values(chosen).filter((id) => id !== 'none')
  const twice = used.find((id, i) => used.indexOf(id) !== i)
  const lacks = !used.includes('time_s')
    ? 'Say which column is the time.'
    : used.length < 2
      ? 'Say what one more column is.'
      : ''
  const problem = twice ? `Two columns are given as ${CHANNELS.find((c) => c.id === twice)?.label}.` : lacks
  return (
    <dialog
      ref={dialog}
      className="columns w-[min(720px,94vw)]"
      aria-label="columns of the recording"
      onClose={onClose}
    >
      <h2 className="name">What are the columns of {name}?</h2>
      <p>{why}</p>
      <ol className="pr-6 mx-0 my-10 overflow-auto max-h-[50vh]">
        {columns.map((c) => (
          <li
            className="px-2 py-4 border-b border-b-line gap-16 grid grid-cols-[minmax(0,1fr)_210px] items-center phone:grid-cols-[minmax(0,1fr)_150px]"
            key={c.at}
          >
            <label className="flex flex-col leading-snug" htmlFor={`col-${c.at}`}>
              <b>{c.label || `column ${c.at + 1}`}</b>
              <span className="fig overflow-hidden text-lead whitespace-pre text-ellipsis">
                {c.preview.filter(Boolean).slice(0, 3).join('   ')}
              </span>
            </label>
            <select
              id={`col-${c.at}`}
              className="field"
              value={chosen[c.at]}
              onChange={(e) => setChosen({ ...chosen, [c.at]: e.target.value as ChannelId | 'none' })}
            >
              <option value="none">leave it aside</option>
              {CHANNELS.map((ch) => (
                <option key={ch.id} value={ch.id}>
                  {ch.label}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ol>
      {problem && <p className="wrong text-small">{problem}</p>}
      <div className="mx-0 mt-10 mb-6 gap-10 flex flex-wrap">
        <button
          type="button"
          className="act strong"
          disabled={problem !== ''}
          onClick={() => {
            remember(columns, mapping)
            onRead(mapping)
          }}
        >
          read it so
        </button>
        <button type="button" className="act" onClick={() => dialog.current?.close()}>
          leave the file
        </button>
      </div>
      <p className="text-soft text-small">Kept for the next file with this header.</p>
    </dialog>
  )
}
