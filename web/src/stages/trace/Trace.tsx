import { useState } from 'react'
import { useSearchParams } from 'react-router'
import {
  basisSentence,
  faultOf,
  hasTrims,
  findsToMend,
  isGrave,
  holeDiameterMm,
  leakAtIdle,
  live,
  livingPoints,
  roundToFill,
  isUnsized,
  supposed,
  SURE_ENOUGH,
  visitLedger,
  type ActPlace,
  type Diagnosis,
  type Ranked,
  type Reason,
  type SoundRecord,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { Views } from '../../kit/Views.js'
import { Working } from '../../kit/Working.js'
import { Holes, holeTimes } from './Holes.js'
import { TrimChart } from '../../charts/TrimChart.js'
import { sayShare } from '../../words/format.js'
import { useSoundRecords } from '../../workers/heart.js'
import { Place } from './Place.js'
import { Tests } from './Tests.js'
import './trace.css'

const VIEWS = ['cause', 'tests', 'place'] as const
type View = (typeof VIEWS)[number]

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
  onOpen: (id: StationId, test?: string) => void
}) {
  const sound = useSoundRecords(file).find((s) => s.of === 'same-car')
  const failed = findsToMend(file).length > 0
  // in the address, so that what is next leads to it, and back from a station it is the one that was left
  const [params, setParams] = useSearchParams()
  const [first] = useState<View>(failed || live(file.repairs).length ? 'place' : 'cause')
  const view = VIEWS.find((v) => v === params.get('view')) ?? first
  const turnTo = (to: View): void => setParams({ view: to }, { replace: true })
  const goTo = (where: ActPlace): void => (where === 'places' ? turnTo('place') : onOpen(where.station, where.test))
  return (
    <div className="bench px-gap pt-0 pb-14 narrow:px-14 narrow:py-10">
      <Views
        label="view"
        value={view}
        onChange={turnTo}
        beside={busy && <Working label="working it out" className="w-120" />}
        views={[
          { value: 'cause', label: 'which cause', body: <Cause file={file} diagnosis={diagnosis} sound={sound} /> },
          {
            value: 'tests',
            label: 'what to test',
            body: <Tests vehicle={file.vehicle.spec} diagnosis={diagnosis} onOpen={goTo} />,
          },
          {
            value: 'place',
            label: 'where, and mend it',
            body: <Place file={file} diagnosis={diagnosis} shop={shop} onOpen={onOpen} />,
          },
        ]}
      />
    </div>
  )
}

/** Causes whose size is drawn as a hole. */
const LETS_AIR_IN: readonly string[] = ['unmetered-air', 'unmetered-air-bank']

function Cause({ file, diagnosis, sound }: { file: VisitFile; diagnosis?: Diagnosis; sound?: SoundRecord }) {
  if (!diagnosis) return <Working label="working it out" />
  const causes = diagnosis.ranking.slice(0, 3)
  const most = Math.max(3, ...causes.flatMap((c) => (diagnosis.reasons[c.fault] ?? []).map((r) => Math.abs(r.bits))))
  return (
    <div className="trace-cause pt-6 gap-28 grid grid-cols-[minmax(0,1fr)_310px] narrow:grid-cols-1">
      <section>
        {diagnosis.warnings.map((w) => (
          <p
            key={w.message}
            className={isGrave(w) ? 'wrong' : w.said ? 'mb-4 border-l-6 border-l-ink pl-10' : 'text-soft text-small'}
          >
            {w.message}
          </p>
        ))}
        <ol>
          {causes.map((c, i) => (
            <CauseRow key={c.fault} cause={c} lead={i === 0} reasons={diagnosis.reasons[c.fault] ?? []} most={most} />
          ))}
        </ol>
        {causes.reduce((sum, c) => sum + c.probability, 0) > 1.004 && (
          <p className="text-small text-soft">Together more than 100 %: two causes can be true at once.</p>
        )}
        <p className="text-small" data-part="basis">
          {basisSentence(diagnosis.basis)}
          {sound && ` Its own record is of ${sound.at.slice(0, 10)}.`}
          {diagnosis.basis.missing && (
            <>
              {' '}
              Would tell most: <strong>{diagnosis.basis.missing.label}</strong>.
            </>
          )}
        </p>
        {diagnosis.ambiguous.map(([a, b]) => (
          <p key={a + b} className="text-small">
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

/** The name of a cause over its size, with its doubt. */
function Asked({ cause }: { cause: Ranked }) {
  return (
    <h2 className="text-soft text-small">
      {faultOf(cause.fault).label}
      {cause.probability < SURE_ENOUGH && '?'}
    </h2>
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
    <li
      className="grid min-h-88 grid-cols-[170px_1fr] gap-12 pt-4 pb-10 narrow:grid-cols-[1fr] narrow:gap-2"
      data-fault={cause.fault}
    >
      <div>
        <p className={`fig leading-none ${lead ? 'text-bench' : 'text-share'}`}>
          {sayShare(cause.probability)}
          <small className="text-name"> %</small>
        </p>
        <p className="font-semibold leading-snug">{faultOf(cause.fault).label}</p>
      </div>
      <ul className="hang" aria-label="readings against and for">
        {reasons.slice(0, lead ? 4 : 3).map((r) => (
          <li key={r.text} data-side={r.bits > 0 ? 'for' : 'against'} className="relative grid min-h-32 pb-4">
            <span
              className={`absolute top-3 h-9 ${r.bits > 0 ? 'left-1/2 bg-ink' : 'right-1/2 bg-line outline-1 outline-ink'}`}
              style={{ width: `${(50 * Math.min(1, Math.abs(r.bits) / most)).toFixed(1)}%` }}
            />
            <span
              className={`pt-14 text-small leading-none ${r.bits > 0 ? 'pl-[calc(50%+8px)]' : 'pr-[calc(50%+8px)] text-right'}`}
            >
              {r.text}
            </span>
          </li>
        ))}
        {!reasons.length && (
          <li className="relative grid h-32 pl-[calc(50%+8px)] narrow:h-46 text-soft text-small">
            nothing read speaks for or against it
          </li>
        )}
      </ul>
    </li>
  )
}

function Size({ file, lead, top }: { file: VisitFile; lead?: Ranked; top?: Ranked }) {
  const round = roundToFill(file)
  const points = livingPoints(file, round > 0 && !livingPoints(file, round).length ? 0 : round)
  const account = visitLedger(file)
  const area = lead?.effectiveAreaMm2
  const leak = area && account ? leakAtIdle(account.before, area.median) : undefined
  const told = area ? lead : top
  return (
    <>
      {area && top && top !== lead && top.fault !== 'none' && (
        <>
          <Asked cause={top} />
          <p className="mb-8">{isUnsized(top) ? 'Nothing that was read tells its size.' : supposed(top)}</p>
        </>
      )}
      {told && told.fault !== 'none' && (told.probability < SURE_ENOUGH || isUnsized(told)) && <Asked cause={told} />}
      {area ? (
        <>
          <h2 className="text-soft text-small">
            as a sharp-edged hole, {holeTimes(holeDiameterMm(area.median))} its size
          </h2>
          <Holes diameterMm={holeDiameterMm(area.median)} />
          <p className="size-line gap-10 flex items-center">
            <span className="fig text-bench leading-figure">{holeDiameterMm(area.median).toFixed(1)}</span>
            <span className="text-small">
              {' '}
              mm, between {holeDiameterMm(area.low).toFixed(1)} and {holeDiameterMm(area.high).toFixed(1)}
              <br />
              {area.median.toFixed(1)} mm² effective at idle
            </span>
          </p>
        </>
      ) : (
        top && (
          <p className="size-sentence mb-14 text-lead">
            {isUnsized(top)
              ? 'Nothing that was read can show it, or its size: it stands by how often it comes, by codes, signs and tests.'
              : supposed(top)}
          </p>
        )
      )}
      {hasTrims(file.vehicle.spec) && (
        <>
          <h2 className="text-soft text-small">total trim{leak ? '; line: such a hole' : ''}</h2>
          <TrimChart points={points} curve={leak?.trimPctAt} />
        </>
      )}
    </>
  )
}
