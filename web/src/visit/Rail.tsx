import { memo } from 'react'
import { Link } from 'react-router'
import {
  benchNext,
  isAccountOfAir,
  isSurelyAir,
  live,
  nowAct,
  openThings,
  STAGES,
  stationInfo,
  stationStates,
  visitLedger,
  type Diagnosis,
  type NowAct,
  type StageId,
  type VisitFile,
} from '@uvula/core'
import { Scroll } from '../kit/Scroll.js'
import { Timers, useNow } from '../parts/Timers.js'
import { sayDay } from '../words/format.js'
import { nowLink } from '../parts/nowLink.js'

/** What to do now and why; what is temporary; what is not accounted for. */
export const Rail = memo(function Rail({
  file,
  diagnosis,
  stage,
}: {
  file: VisitFile
  diagnosis?: Diagnosis
  stage: StageId
}) {
  const nowMs = useNow(10_000)
  const now = nowAct(file, diagnosis, nowMs)
  const account = visitLedger(file)
  // the close-up bench says it itself
  // what the act tells already is not told again
  const open = stage === 'close-up' ? [] : openThings(file).slice(now.id === 'close-up' ? 1 : 0)
  const states = [...stationStates(file)]
  const loose = states.filter(([, s]) => s === 'failed')
  const temporary = live(file.repairs).filter((r) => r.temporary && r.state === 'done')
  return (
    <aside
      className="rail min-h-0 border-l-2 border-l-ink [grid-area:rail] narrow:border-l-0 print:hidden"
      aria-label="now"
    >
      <Scroll className="h-full narrow:h-auto short:h-auto">
        <NowBlock now={now} visitId={file.visit.id} elsewhere={now.stage !== stage} />
        {now.stage !== stage && (
          <section className="border-b border-b-line px-14 pt-8 pb-10 narrow:hidden" data-testid="bench-next">
            <h2 className="text-small text-soft">this bench</h2>
            <p>{benchNext(file, stage, diagnosis, nowMs)}</p>
          </section>
        )}
        {now.then.length > 0 && (
          <section className="px-14 pt-8 pb-10 border-b border-b-line narrow:hidden">
            <h2 className="text-soft text-small">then</h2>
            {now.then.map((t) => (
              <p key={t}>{t}</p>
            ))}
          </section>
        )}
        <Timers file={file} />
        {open.length > 0 && (
          <section className="px-14 pt-8 pb-10 border-b border-b-line narrow:hidden">
            <h2 className="text-soft text-small">open or loose</h2>
            {open.slice(0, 4).map((o) => (
              <p key={o.message}>{o.message}</p>
            ))}
          </section>
        )}
        {(loose.length > 0 || temporary.length > 0) && (
          <section className="px-14 pt-8 pb-10 border-b border-b-line narrow:hidden">
            <h2 className="text-soft text-small">not mended, or for now only</h2>
            {loose.map(([id]) => (
              <p key={id}>
                {id === 'beyond' ? `${stationInfo(id).label}: found by a test` : `${stationInfo(id).label} failed`}
              </p>
            ))}
            {temporary.map((r) => (
              <p key={r.id}>
                {stationInfo(r.station).label} {r.kind === 'wrap' ? 'wrapped' : r.kind}, look by{' '}
                {r.recheckOn ? sayDay(r.recheckOn) : 'no day'}
              </p>
            ))}
          </section>
        )}
        {account && isAccountOfAir(file, diagnosis) && (
          <section className="px-14 pt-8 pb-10 border-b border-b-line narrow:hidden">
            <h2 className="text-soft text-small">
              not accounted for{account.entries.length || (diagnosis && isSurelyAir(diagnosis)) ? '' : ', if it is air'}
            </h2>
            <p>
              {account.now.atLeast ? 'at least ' : ''}
              <span className="fig text-clock leading-none">{account.now.gramsPerS.median.toFixed(2)}</span> g/s
            </p>
            <p className="text-soft text-small">
              {account.accounted
                ? 'within a sound engine’s spread'
                : `${account.now.gramsPerS.low.toFixed(2)} to ${account.now.gramsPerS.high.toFixed(2)}; ${account.now.sharePct.median.toFixed(0)} % of the idle air`}
            </p>
          </section>
        )}
      </Scroll>
    </aside>
  )
})

function NowBlock({ now, visitId, elsewhere }: { now: NowAct; visitId: string; elsewhere: boolean }) {
  return (
    <Link
      to={nowLink(visitId, now)}
      className="now px-14 pt-10 pb-14 flex flex-col bg-now text-now-ink no-underline narrow:px-14 narrow:pt-6 narrow:pb-8 narrow:gap-x-10 narrow:grid narrow:grid-cols-[auto_1fr] narrow:items-baseline narrow:short:h-54 narrow:short:py-0 narrow:short:items-center"
      data-testid="now"
    >
      <span className="font-semibold text-small">
        now{elsewhere ? `, at ${STAGES.find((s) => s.id === now.stage)!.label.toLowerCase()}` : ''}
      </span>
      <span className="name narrow:text-lead narrow:short:truncate narrow:short:text-body">{now.title}</span>
      <span className="narrow:short:hidden narrow:col-span-full narrow:line-clamp-2 narrow:text-small">{now.why}</span>
    </Link>
  )
}
