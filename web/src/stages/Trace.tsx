import { useState } from 'react'
import {
  faultOf,
  holeDiameterMm,
  leakAtIdle,
  live,
  pointsOfRound,
  roundToFill,
  visitLedger,
  type Diagnosis,
  type Ranked,
  type Reason,
  type SoundRecord,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { Holes } from '../parts/Holes.js'
import { TrimChart } from '../parts/TrimChart.js'
import { sayShare } from '../words/format.js'
import { useSoundRecord } from '../workers/heart.js'
import { Place } from './Place.js'
import { Tests } from './Tests.js'

type View = 'cause' | 'tests' | 'place'

/** Which cause, by what evidence, how big; and where it is and how it is mended. */
export function Trace({
  file,
  diagnosis,
  busy,
  shop,
  onOpen,
}: {
  file: VisitFile
  diagnosis?: Diagnosis
  busy: boolean
  shop: Shop
  onOpen: (id: StationId) => void
}) {
  const sound = useSoundRecord(file)
  const failed = live(file.findings).some((f) => f.outcome === 'fail' && f.test !== 'note')
  const [view, setView] = useState<View>(failed || live(file.repairs).length ? 'place' : 'cause')
  return (
    <div className="bench trace">
      <nav className="views" aria-label="view">
        <button type="button" aria-pressed={view === 'cause'} onClick={() => setView('cause')}>
          which cause
        </button>
        <button type="button" aria-pressed={view === 'tests'} onClick={() => setView('tests')}>
          what to test
        </button>
        <button type="button" aria-pressed={view === 'place'} onClick={() => setView('place')}>
          where, and mend it
        </button>
        {busy && <div className="progress" role="progressbar" aria-label="working it out" />}
      </nav>
      {view === 'cause' ? (
        <Cause file={file} diagnosis={diagnosis} sound={sound} />
      ) : view === 'tests' ? (
        <Tests diagnosis={diagnosis} onOpen={onOpen} />
      ) : (
        <Place file={file} diagnosis={diagnosis} shop={shop} onOpen={onOpen} />
      )}
    </div>
  )
}

/** Causes whose size is drawn as a hole. */
const LETS_AIR_IN: readonly string[] = ['unmetered-air', 'unmetered-air-bank']

function Cause({ file, diagnosis, sound }: { file: VisitFile; diagnosis?: Diagnosis; sound?: SoundRecord }) {
  if (!diagnosis) return <div className="progress" role="progressbar" aria-label="working it out" />
  const causes = diagnosis.ranking.slice(0, 3)
  const most = Math.max(3, ...causes.flatMap((c) => (diagnosis.reasons[c.fault] ?? []).map((r) => Math.abs(r.bits))))
  return (
    <div className="trace-cause">
      <section>
        {diagnosis.warnings.map((w) => (
          <p key={w.code} className={w.code === 'none-of-these-explains-it' ? 'wrong' : 'soft small'}>
            {w.message}
          </p>
        ))}
        <ol>
          {causes.map((c, i) => (
            <CauseRow key={c.fault} cause={c} lead={i === 0} reasons={diagnosis.reasons[c.fault] ?? []} most={most} />
          ))}
        </ol>
        {sound && (
          <p className="small">
            This car’s own sound record of {sound.at.slice(0, 10)} narrows what its readings should be.
          </p>
        )}
        {diagnosis.ambiguous.map(([a, b]) => (
          <p key={a + b} className="small">
            The readings cannot part “{faultOf(a).label}” from “{faultOf(b).label}”: a test must.
          </p>
        ))}
      </section>
      <section>
        <Size
          file={file}
          lead={diagnosis.ranking.find((r) => LETS_AIR_IN.includes(r.fault) && r.probability > 0.2)}
          top={causes[0]}
        />
      </section>
    </div>
  )
}

function CauseRow({
  cause,
  lead,
  reasons,
  most,
}: {
  cause: Ranked
  lead: boolean
  reasons: readonly Reason[]
  most: number
}) {
  return (
    <li className={lead ? 'cause lead' : 'cause'} data-fault={cause.fault}>
      <div>
        <p className="fig cause-share">
          {sayShare(cause.probability)}
          <small> %</small>
        </p>
        <p className="cause-name">{faultOf(cause.fault).label}</p>
      </div>
      <ul className="hang" aria-label="readings against and for">
        {reasons.slice(0, lead ? 4 : 3).map((r) => (
          <li key={r.text} className={r.bits > 0 ? 'for' : 'against'}>
            <span
              className="hang-bar"
              style={{ width: `${(50 * Math.min(1, Math.abs(r.bits) / most)).toFixed(1)}%` }}
            />
            <span className="hang-text small">{r.text}</span>
          </li>
        ))}
        {!reasons.length && <li className="soft small hang-none">nothing read speaks for or against it</li>}
      </ul>
    </li>
  )
}

function Size({ file, lead, top }: { file: VisitFile; lead?: Ranked; top?: Ranked }) {
  const round = roundToFill(file)
  const points = pointsOfRound(file, round > 0 && !pointsOfRound(file, round).length ? 0 : round)
  const account = visitLedger(file)
  const area = lead?.effectiveAreaMm2
  const leak = area && account ? leakAtIdle(account.before, area.median) : undefined
  return (
    <>
      {area ? (
        <>
          <h2 className="soft small">as a sharp-edged hole, three times its size</h2>
          <Holes diameterMm={holeDiameterMm(area.median)} />
          <p className="size-line">
            <span className="fig">{holeDiameterMm(area.median).toFixed(1)}</span>
            <span className="small">
              {' '}
              mm, between {holeDiameterMm(area.low).toFixed(1)} and {holeDiameterMm(area.high).toFixed(1)}
              <br />
              {area.median.toFixed(1)} mm² effective at idle
            </span>
          </p>
        </>
      ) : (
        top && <p className="size-sentence">{top.sentence}</p>
      )}
      <h2 className="soft small">total trim against airflow{leak ? '; line: such a hole' : ''}</h2>
      <TrimChart points={points} curve={leak?.trimPctAt} />
    </>
  )
}
