import type { RecordMeta, ReadingRecord } from '@uvula/core'
import { maybeChannel } from '@uvula/core'
import { newestUpon, outbox } from '../store/outbox.js'
import { useUnit } from '../store/settings.js'
import { useOutbox } from '../store/visit.js'
import type { PendingWrite } from '../store/database.js'
import { sayTime } from '../words/format.js'
import { entryName, entryValue } from '../words/entries.js'

/** What of this visit the server did not take: each with its text, the reason, and what to do. Nothing is shown without. */
export function Undelivered({ visitId }: { visitId: string }) {
  const { writes } = useOutbox()
  const stuck = writes.filter((w) => w.state !== 'waiting' && w.visitId === visitId)
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
export function Stuck({ write: w }: { write: PendingWrite }) {
  const { writes } = useOutbox()
  const unit = useUnit(maybeChannel(String((w.data as unknown as ReadingRecord).channel))?.quantity ?? 'number')
  const value = (data: object): string =>
    entryValue(w.noun, data as Record<string, unknown>, w.noun === 'readings' ? unit : undefined)
  const current = w.current as (RecordMeta & Record<string, unknown>) | null | undefined
  const mine = value(newestUpon(writes, w).data)
  return (
    <div className="wrong" data-testid="stuck">
      <p>
        <b>{entryName(w.noun, w.data)}</b>
        {w.state === 'refused' && mine ? `: ${mine}` : ''}
      </p>
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
