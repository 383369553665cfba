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
  const mayRecord = mayRecordLive(file, simulated)
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
      <section className="record">
        <p className="wrong">A recording of another visit is not kept yet.</p>
        <Link className="act strong" to={`/visit/${encodeURIComponent(other)}/live`}>
          go there and keep it
        </Link>
      </section>
    )
  if (!recording)
    return (
      <section className="record">
        {able &&
          !simulated &&
          LIVE_STOPS.filter((id) => !stopSeen(file, id)).map((id) => <Stop key={id} file={file} id={id} />)}
        <button
          type="button"
          className={able && mayRecord.ok && !kept ? 'act next record-go' : 'act record-go'}
          disabled={!able || !mayRecord.ok}
          onClick={() => {
            setKept(undefined)
            liveStore.begin(file.visit.id, roundToFill(file))
          }}
        >
          {kept ? 'record again' : 'record'}
        </button>
        <p className="small" role="status">
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
    <section className="record" data-rows={rows.length}>
      <p className="fig record-clock">
        {sayClock(seconds)}
        <small> {rows.length} rows</small>
      </p>
      <div className="row-acts">
        <button
          type="button"
          className={complete || !able || stale ? 'act next' : 'act strong'}
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
      {!mayKeep.ok && <p className="small wrong">{mayKeep.refusals[0].message}</p>}
      {stale && <p className="small wrong">Connected anew since: keep this one, then record again.</p>}
      {!able && <p className="small wrong">The link is gone; what was recorded is here. Keep it, or wait.</p>}
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
