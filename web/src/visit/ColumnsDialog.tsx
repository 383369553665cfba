import { useState } from 'react'
import { CHANNELS, type ChannelId, type ColumnGuess, type Mapping } from '@uvula/core'
import { Close, Dialog } from '../kit/Dialog.js'
import { Pick, type Option } from '../kit/Pick.js'
import { Scroll } from '../kit/Scroll.js'
import { rememberMapping } from './mappings.js'

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
  const [chosen, setChosen] = useState<Record<number, ChannelId | 'none'>>(() =>
    Object.fromEntries(columns.map((c) => [c.at, c.channel ?? c.candidates[0]?.channel ?? 'none'])),
  )
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
    <Dialog open onOpenChange={(open) => !open && onClose()} title={`What are the columns of ${name}?`} wide>
      <p>{why}</p>
      <Scroll className="my-10 h-[50dvh] max-h-max">
        <ol>
          {columns.map((c) => (
            <li
              key={c.at}
              className="grid grid-cols-[minmax(0,1fr)_230px] items-center gap-16 border-b border-b-line py-4 pr-18 pl-2 phone:grid-cols-[minmax(0,1fr)_150px]"
            >
              <label className="flex flex-col leading-snug" htmlFor={`col-${c.at}`}>
                <b>{c.label || `column ${c.at + 1}`}</b>
                <span className="fig overflow-hidden text-lead text-ellipsis whitespace-pre">
                  {c.preview.filter(Boolean).slice(0, 3).join('   ')}
                </span>
              </label>
              <Pick
                id={`col-${c.at}`}
                label={c.label || `column ${c.at + 1}`}
                value={chosen[c.at]}
                options={MEANINGS}
                onChange={(id) => setChosen({ ...chosen, [c.at]: id })}
              />
            </li>
          ))}
        </ol>
      </Scroll>
      {problem && <p className="wrong text-small">{problem}</p>}
      <div className="mt-10 mb-6 flex gap-10">
        <button
          type="button"
          className="act strong"
          disabled={problem !== ''}
          onClick={() => {
            rememberMapping(columns, mapping)
            onRead(mapping)
          }}
        >
          read it so
        </button>
        <Close>leave the file</Close>
      </div>
      <p className="text-small text-soft">Kept for the next file with this header.</p>
    </Dialog>
  )
}

/** What a column can be. */
const MEANINGS: readonly Option<ChannelId | 'none'>[] = [
  { value: 'none', label: 'leave it aside' },
  ...CHANNELS.map((ch) => ({ value: ch.id, label: ch.label })),
]
