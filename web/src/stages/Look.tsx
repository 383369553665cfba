import { useMemo } from 'react'
import {
  airPathOf,
  live,
  lookItemsOf,
  maybeStation,
  type LookItem as Asked,
  type Outcome,
  type StationId,
  type StationState,
  type VisitFile,
} from '@uvula/core'
import { Ring } from '../parts/Ring.js'
import { useWriter } from '../store/visit.js'
import { LookNote } from './LookNote.js'

const OUTCOMES: readonly { readonly outcome: Outcome; readonly state: StationState; readonly word: string }[] = [
  { outcome: 'pass', state: 'sound', word: 'sound' },
  { outcome: 'unclear', state: 'suspect', word: 'suspect' },
  { outcome: 'fail', state: 'failed', word: 'failed' },
]

/** The walk along the pipe: free checks, one tap each. */
export function Look({ file, onOpen }: { file: VisitFile; onOpen: (id: StationId) => void }) {
  const path = useMemo(() => airPathOf(file.vehicle.spec), [file.vehicle.spec])
  const items = useMemo(() => lookItemsOf(path), [path])
  const stations = [...new Set(items.map((i) => i.station))]
  return (
    <div className="bench px-gap py-14 narrow:px-14 narrow:py-10">
      <ol className="gap-x-28 [columns:3_300px]">
        {stations.map((id) => (
          <li key={id} className="pl-10 border-l-12 border-l-air break-inside-avoid">
            <ul>
              {items
                .filter((i) => i.station === id)
                .map((i, k) => (
                  <LookItem
                    key={i.id}
                    file={file}
                    item={i}
                    name={k === 0 ? maybeStation(path, id)!.info.label : undefined}
                    onOpen={onOpen}
                  />
                ))}
            </ul>
          </li>
        ))}
      </ol>
    </div>
  )
}

export function LookItem({
  file,
  item,
  name,
  onOpen,
}: {
  file: VisitFile
  item: Asked
  name?: string
  onOpen?: (id: StationId) => void
}) {
  const { write, remove } = useWriter(file)
  const id = `${file.visit.id}:look:${item.id}`
  const found = live(file.findings).find((x) => x.id === id)
  const judge = (outcome: Outcome): void => {
    if (found?.outcome === outcome) return remove('findings', id)
    write('findings', id, {
      visitId: file.visit.id,
      test: 'look',
      station: item.station,
      item: item.id,
      outcome,
      ...(found?.note ? { note: found.note } : {}),
    })
  }
  return (
    <li
      className="border-t border-t-line first:border-t-2 first:border-t-ink grid grid-cols-[1fr_auto] items-center"
      data-item={item.id}
    >
      {name && onOpen ? (
        <button type="button" className="text-label leading-tight" onClick={() => onOpen(item.station)}>
          <b className="block font-semibold">{name}</b>
          {item.question}
        </button>
      ) : (
        <span className="text-label leading-tight">{item.question}</span>
      )}
      <span className="flex" role="group" aria-label={item.question}>
        {OUTCOMES.map((o) => (
          <button
            className="w-tap h-tap grid place-items-center aria-pressed:bg-face-2 aria-pressed:shadow-[inset_0_-5px_0_var(--color-ink)]"
            key={o.outcome}
            type="button"
            aria-label={`${item.question}: ${o.word}`}
            aria-pressed={found?.outcome === o.outcome}
            onClick={() => judge(o.outcome)}
          >
            <svg width="34" height="34" aria-hidden="true">
              <Ring x={17} y={18} r={10} state={o.state} />
            </svg>
          </button>
        ))}
      </span>
      {found && found.outcome !== 'pass' && <LookNote file={file} finding={found} />}
    </li>
  )
}
