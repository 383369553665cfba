import { useState } from 'react'
import { Link } from 'react-router'
import {
  LIVE_STOPS,
  mayKeepLive,
  mayRecordLive,
  recordingOfRows,
  roundToFill,
  writeRecordingCsv,
  type VisitFile,
} from '@uvula/core'
import { Stop, stopSeen } from '../parts/Stop.js'
import { newId } from '../store/database.js'
import { useNow } from '../parts/Timers.js'
import { useWriter } from '../store/visit.js'
import { sayClock, sayTime } from '../words/format.js'
import { liveStore, type LiveRecording, type LiveView } from './liveStore.js'
import type { LiveEvidence } from './useLiveEvidence.js'

/** Begin, mark, keep: what is recorded becomes one of the visit's recordings, as a dropped file would. */
export function RecordBlock({
  file,
  live,
  demo,
  recording,
  evidence,
  complete,
  onMark,
}: {
  file: VisitFile
  live: LiveView
  demo: boolean
  recording: LiveRecording | undefined
  evidence: LiveEvidence
  complete: boolean
  onMark: () => void
}) {
  const { write } = useWriter(file)
  const [kept, setKept] = useState<string>()
  const [sure, setSure] = useState(false)
  const able = live.state?.phase === 'live' && live.reached === true
  const { rows } = live
  const simulated = recording?.simulated ?? live.state?.standIn === true
  const mayKeep = mayKeepLive(simulated, demo)
  const mayRecord = mayRecordLive(file, simulated, useNow(5000))
  const keep = (): void => {
    if (!recording || !mayKeep.ok) return
    const marked = withMarks(rows, recording.marks)
    const name = `${recording.simulated ? 'simulated' : 'live'} ${sayTime(new Date().toISOString())}.csv`
    const content = btoa(writeRecordingCsv(recordingOfRows(marked)))
    const { points, closedThrottlePct } = evidence
    write(
      'recordings',
      `${file.visit.id}:rec:${newId()}`,
      { visitId: file.visit.id, round: recording.round, name, content },
      {
        local: {
          rows: rows.length,
          points,
          warnings: [],
          ...(closedThrottlePct === undefined ? {} : { closedThrottlePct }),
        },
      },
    )
    setKept(`${name}: ${rows.length} rows, ${points.length} operating points.`)
    void liveStore.end()
  }
  const other = live.recording && !recording ? live.recording.visitId : undefined
  if (other)
    return (
      <section className="record pb-10 border-b border-b-line">
        <p className="wrong">A recording of another visit is not kept yet.</p>
        <Link className="act strong" to={`/visit/${encodeURIComponent(other)}/live`}>
          go there and keep it
        </Link>
      </section>
    )
  if (!recording)
    return (
      <section className="record pb-10 border-b border-b-line">
        {able &&
          !simulated &&
          LIVE_STOPS.filter((id) => !stopSeen(file, id)).map((id) => <Stop key={id} file={file} id={id} />)}
        <button
          type="button"
          className={`act w-full min-h-72 text-figure justify-center ${able && mayRecord.ok && !kept ? 'next' : ''}`}
          disabled={!able || !mayRecord.ok}
          onClick={() => {
            setKept(undefined)
            liveStore.begin(file.visit.id, roundToFill(file))
          }}
        >
          {kept ? 'record again' : 'record'}
        </button>
        <p className="text-small" role="status">
          {kept ??
            (!able
              ? 'Waits for the link.'
              : mayRecord.ok
                ? 'Every row from then on, the gaps as gaps.'
                : mayRecord.refusals[0].message)}
        </p>
      </section>
    )
  const stale = able && live.state?.session !== recording.session
  const seconds = rows.length ? rows.at(-1)!.t - rows[0].t : 0
  return (
    <section className="record pb-10 border-b border-b-line" data-rows={rows.length}>
      <p className="fig text-clock leading-none phone:text-reading">
        {sayClock(seconds)}
        <small className="font-medium text-label font-word"> {rows.length} rows</small>
      </p>
      <div className="mx-0 my-8 gap-8 flex flex-wrap">
        <button
          type="button"
          className={`act ${complete || !able || stale ? 'next' : 'strong'}`}
          disabled={rows.length < 2 || !mayKeep.ok}
          onClick={keep}
        >
          keep it
        </button>
        <button type="button" className="act" disabled={!rows.length} onClick={onMark}>
          mark{recording.marks.length ? ` ${recording.marks.length}` : ''}
        </button>
        <button
          type="button"
          className="act"
          onClick={() => {
            if (!sure) return setSure(true)
            setSure(false)
            void liveStore.end()
          }}
        >
          {sure ? 'really drop it' : 'drop'}
        </button>
      </div>
      {!mayKeep.ok && <p className="wrong text-small">{mayKeep.refusals[0].message}</p>}
      {stale && <p className="wrong text-small">Connected anew since: keep this one, then record again.</p>}
      {!able && <p className="wrong text-small">The link is gone; what was recorded is here. Keep it, or wait.</p>}
    </section>
  )
}

/** Rows with the number of each mark at the row that follows it. */
function withMarks(rows: LiveView['rows'], marks: readonly number[]): LiveView['rows'] {
  let n = 0
  return rows.map((r) => {
    if (n >= marks.length || r.t < marks[n]) return r
    n++
    return { ...r, values: { ...r.values, mark: n } }
  })
}
