import { useEffect, useSyncExternalStore } from 'react'
import type { RecordMeta, ReadingRecord } from '@uvula/core'
import type { WriteNoun } from '@uvula/contract'
import { maybeChannel } from '@uvula/core'
import { newestUpon, outbox } from '../store/outbox.js'
import { useUnit } from '../store/settings.js'
import { useOutbox } from '../store/visit.js'
import type { PendingWrite } from '../store/database.js'
import { sayTime } from '../words/format.js'
import { entryName, entryValue } from '../words/entries.js'

/** Keys of entries that are told at their own fields now: they are not told above the bench as well. */
const atFields = (() => {
  let keys: ReadonlySet<string> = new Set()
  const listeners = new Set<() => void>()
  const set = (next: ReadonlySet<string>): void => {
    keys = next
    for (const f of listeners) f()
  }
  return {
    subscribe: (f: () => void): (() => void) => {
      listeners.add(f)
      return () => listeners.delete(f)
    },
    snapshot: (): ReadonlySet<string> => keys,
    /** @returns what takes it off again */
    add: (key: string): (() => void) => {
      set(new Set([...keys, key]))
      return () => set(new Set([...keys].filter((k) => k !== key)))
    },
  }
})()

/** An entry on which two hands differ, at its own field: both values, whose they are, and the choice. */
export function StuckHere({ noun, id }: { noun: WriteNoun; id: string }) {
  // one of twenty on a bench: what is only on its way draws none of them
  const stuck = useSyncExternalStore(outbox.subscribe, () =>
    outbox.snapshot().writes.find((w) => w.state === 'conflict' && w.noun === noun && w.id === id),
  )
  const key = stuck?.key
  useEffect(() => (key === undefined ? undefined : atFields.add(key)), [key])
  return stuck ? <Stuck write={stuck} here /> : null
}

/** What of this visit the server did not take: each with its text, the reason, and what to do. Nothing is shown without. */
export function Undelivered({ visitId }: { visitId: string }) {
  const { writes } = useOutbox()
  const elsewhere = useSyncExternalStore(atFields.subscribe, atFields.snapshot)
  const stuck = writes.filter((w) => w.state !== 'waiting' && w.visitId === visitId && !elsewhere.has(w.key))
  if (!stuck.length) return null
  return (
    <div role="alert" aria-label="not taken" className="px-gap pt-14 pb-0 gap-12 grid print:hidden">
      {stuck.map((w) => (
        <Stuck key={w.key} write={w} />
      ))}
    </div>
  )
}

/** One entry that waits for a person. */
export function Stuck({
  write: w,
  here = false,
}: {
  write: PendingWrite
  /** It stands at its own field, which has its name already. */
  here?: boolean
}) {
  const { writes } = useOutbox()
  const unit = useUnit(maybeChannel(String((w.data as unknown as ReadingRecord).channel))?.quantity ?? 'number')
  const value = (data: object): string =>
    entryValue(w.noun, data as Record<string, unknown>, w.noun === 'readings' ? unit : undefined)
  const current = w.current as (RecordMeta & Record<string, unknown>) | null | undefined
  const mine = value(newestUpon(writes, w).data)
  return (
    <div className={here ? 'py-6 text-small' : 'wrong'} data-testid="stuck" role={here ? 'alert' : undefined}>
      {!here && (
        <p>
          <b>{entryName(w.noun, w.data)}</b>
          {w.state === 'refused' && mine ? `: ${mine}` : ''}
        </p>
      )}
      {w.state === 'conflict' ? (
        <p>
          yours <b>{mine}</b>, {w.by}, {sayTime(w.at)}; there <b>{current ? value(current) : 'nothing'}</b>
          {current ? `, ${current.by}, ${sayTime(current.at)}` : ''}
        </p>
      ) : (
        <p>{w.problem}</p>
      )}
      <button type="button" className="act" onClick={() => void outbox.insist(w)}>
        {w.state === 'conflict' ? `keep mine: ${mine}` : 'try again'}
      </button>{' '}
      <button type="button" className="act" onClick={() => void outbox.drop(w)}>
        {w.state === 'conflict' ? `keep the other: ${current ? value(current) : 'nothing'}` : 'take mine off'}
      </button>
    </div>
  )
}
