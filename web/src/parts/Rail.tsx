import { Link } from 'react-router'
import {
  live,
  nowAct,
  openThings,
  stationInfo,
  stationStates,
  visitLedger,
  type Diagnosis,
  type NowAct,
  type StageId,
  type VisitFile,
} from '@uvula/core'
import { Timers } from './Timers.js'
import { sayDay } from '../words/format.js'

/** What to do now and why; what is temporary; what is not accounted for. */
export function Rail({ file, diagnosis, stage }: { file: VisitFile; diagnosis?: Diagnosis; stage: StageId }) {
  const now = nowAct(file, diagnosis)
  const account = visitLedger(file)
  // the close-up bench says it itself
  const open = stage === 'close-up' ? [] : openThings(file)
  const states = [...stationStates(file)]
  const loose = states.filter(([, s]) => s === 'failed')
  const temporary = live(file.repairs).filter((r) => r.temporary && r.state === 'done')
  return (
    <aside className="rail" aria-label="now">
      <NowBlock now={now} visitId={file.visit.id} />
      {now.then.length > 0 && (
        <section className="rail-more">
          <h2 className="soft small">then</h2>
          {now.then.map((t) => (
            <p key={t}>{t}</p>
          ))}
        </section>
      )}
      <Timers file={file} />
      {open.length > 0 && (
        <section className="rail-more">
          <h2 className="soft small">open or loose</h2>
          {open.slice(0, 4).map((o) => (
            <p key={o.message}>{o.message}</p>
          ))}
        </section>
      )}
      {(loose.length > 0 || temporary.length > 0) && (
        <section className="rail-more">
          <h2 className="soft small">not mended, or for now only</h2>
          {loose.map(([id]) => (
            <p key={id}>{stationInfo(id).label} failed</p>
          ))}
          {temporary.map((r) => (
            <p key={r.id}>
              {stationInfo(r.station).label} {r.kind === 'wrap' ? 'wrapped' : r.kind}, look by{' '}
              {r.recheckOn ? sayDay(r.recheckOn) : 'no day'}
            </p>
          ))}
        </section>
      )}
      {account && (
        <section className="rail-more">
          <h2 className="soft small">not accounted for</h2>
          <p>
            <span className="fig rail-figure">{account.now.gramsPerS.median.toFixed(2)}</span> g/s
          </p>
          <p className="small soft">
            {account.accounted
              ? 'within a sound engine’s spread'
              : `${account.now.gramsPerS.low.toFixed(2)} to ${account.now.gramsPerS.high.toFixed(2)}; ${account.now.sharePct.median.toFixed(0)} % of the idle air`}
          </p>
        </section>
      )}
    </aside>
  )
}

function NowBlock({ now, visitId }: { now: NowAct; visitId: string }) {
  return (
    <Link to={`/visit/${encodeURIComponent(visitId)}/${now.stage}`} className="now" data-testid="now">
      <span className="small">now</span>
      <span className="name">{now.title}</span>
      <span className="now-why">{now.why}</span>
    </Link>
  )
}
