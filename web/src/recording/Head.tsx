import { live, type Alignment, type RecordingRecord, type VisitFile } from '@uvula/core'
import { Pick } from '../kit/Pick.js'
import { BackToVisit } from '../parts/BackToVisit.js'
import { Delivery } from '../parts/Delivery.js'
import { sayClock } from '../words/format.js'
import { LAID } from './words.js'

/** Whose recording it is, another one to lay under it, and its two files. */
export function Head({
  file,
  recording,
  endS,
  beside,
  ways,
  by,
  onBeside,
  onBy,
}: {
  file: VisitFile
  recording: RecordingRecord
  /** Its last time [s]. */
  endS: number
  beside: string | undefined
  /** In which it can be laid. */
  ways: readonly Alignment[]
  by: Alignment | undefined
  onBy: (by: Alignment) => void
  onBeside: (rec: string | undefined) => void
}) {
  const others = live(file.recordings).filter((r) => r.id !== recording.id)
  return (
    <header className="visit-head pr-gap pl-8 py-0 border-b-2 border-b-ink gap-12 [grid-area:head] flex items-center phone:flex-wrap narrow:pr-12 narrow:pl-0 narrow:py-0 narrow:gap-4 narrow:flex-wrap">
      <BackToVisit file={file} />
      <h1 className="overflow-hidden flex-1 min-w-0 text-lead whitespace-nowrap text-ellipsis narrow:basis-[60%]">
        <b>{file.vehicle.spec.name}</b>{' '}
        <span className="text-body text-soft narrow:hidden">
          {recording.name}, {recording.rows} rows, {sayClock(endS)}
        </span>
      </h1>
      <Delivery />
      {others.length > 0 && (
        <Pick
          label="laid under it"
          className="max-w-230 narrow:ml-16 narrow:max-w-[43%]"
          value={beside ?? 'none'}
          options={[
            { value: 'none', label: 'nothing laid under it' },
            ...others.map((r) => ({ value: r.id, label: r.name })),
          ]}
          onChange={(id) => onBeside(id === 'none' ? undefined : id)}
        />
      )}
      {by && ways.length > 1 && (
        <Pick
          label="how it is laid"
          className="max-w-190 narrow:max-w-[43%]"
          value={by}
          options={ways.map((w) => ({ value: w, label: LAID[w] }))}
          onChange={onBy}
        />
      )}
      <a
        className="act whitespace-nowrap narrow:mb-6 narrow:ml-16"
        href={`/api/recordings/${encodeURIComponent(recording.id)}/canonical`}
        download
      >
        as clean CSV
      </a>
      <a
        className="act whitespace-nowrap narrow:mb-6 narrow:ml-8"
        href={`/api/recordings/${encodeURIComponent(recording.id)}/original`}
        download
      >
        original
      </a>
    </header>
  )
}
