import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import {
  ADAPTATIONS,
  failedLive,
  lastRound,
  live,
  mayBegin,
  mayKeepLive,
  measuredPreconditions,
  procedureOfOwn,
  proceduresFor,
  roundToFill,
  runState,
  SCAN_RESET,
  schoolsAt,
  stepSeconds,
  taughtRuns,
  type AdaptationId,
  type Procedure,
  type ProcedureRecord,
  type RunRecord,
  type VisitFile,
} from '@uvula/core'
import { Pick } from '../../kit/Pick.js'
import { Tick } from '../../kit/Tick.js'
import { newestValues } from '../../live/liveReadings.js'
import { useLive } from '../../live/liveStore.js'
import { Schools } from '../../parts/Schools.js'
import { useNow } from '../../parts/Timers.js'
import { TimeStrip } from '../../procedures/TimeStrip.js'
import { newId } from '../../store/database.js'
import { useProcedures } from '../../store/shopRecords.js'
import { useShop, useWriter } from '../../store/visit.js'
import { Conditions } from './Conditions.js'
import { KIND_WORDS } from './words.js'

/** A procedure that can be armed: one of ours, or the shop's own with the record it is kept in. */
interface Offered {
  readonly procedure: Procedure
  readonly own?: ProcedureRecord
}

/** The shop's own above ours: what a maker's book says wins. */
function useOffered(file: VisitFile): readonly Offered[] {
  const { procedures } = useProcedures()
  const own = (procedures ?? []).map((p) => ({ procedure: procedureOfOwn(p.value), own: p }))
  return [...own, ...proceduresFor(file.vehicle.spec).map((procedure) => ({ procedure }))]
}

/** The steps with their times, what must hold before, attempts judged in tenths. */
export function Teach({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const navigate = useNavigate()
  const offered = useOffered(file)
  const [chosen, setChosen] = useState<string>()
  // what was begun goes on; else the one that fits this engine best: the shop's own may be another car's
  const before = taughtRuns(file).at(-1)?.procedure
  const [first] = proceduresFor(file.vehicle.spec)
  const { procedure, own } = offered.find((o) => o.procedure.id === (chosen ?? before ?? first.id)) ?? {
    procedure: first,
    own: undefined,
  }
  const [ticked, setTicked] = useState<readonly string[]>([])
  const [reset, setReset] = useState<readonly AdaptationId[]>([])
  const now = useNow(1000)
  const link = useLive()
  const shop = useShop()
  // a simulated car tells nothing of a customer's
  const may = link.state?.phase === 'live' && mayKeepLive(link.state.standIn, shop?.demo === true).ok
  const liveNow = may ? newestValues(link.samples) : {}
  const failed = failedLive(procedure.preconditions, liveNow)
  const measured = measuredPreconditions(file, procedure.preconditions, now, liveNow)
  const seen = [...new Set([...ticked, ...measured])].filter((id) => !failed.includes(id))
  const rest = procedure.preconditions
    .filter((c) => !c.stop && !seen.includes(c.id) && !failed.includes(c.id))
    .map((c) => c.id)
  const begun = live(file.runs).filter((r) => r.procedure === procedure.id && r.events.length)
  const last = begun.at(-1)
  const draft = {
    visitId: file.visit.id,
    procedure: procedure.id,
    attempt: begun.length + 1,
    preconditions: seen,
    events: [],
    afterRound: lastRound(file),
    ...(own ? { own: own.value } : {}),
    ...(procedure.id === SCAN_RESET.id ? { reset } : {}),
  }
  const gate = mayBegin(file, { ...draft, id: 'draft', version: 0, by: '', at: '' }, now)
  const choose = (id: string): void => {
    setChosen(id)
    setTicked([])
  }
  const arm = (): void => {
    const run = `${file.visit.id}:run:${newId()}`
    write('runs', run, draft)
    void navigate(`/visit/${encodeURIComponent(file.visit.id)}/run/${encodeURIComponent(run)}`)
  }
  return (
    <div className="grid grid-cols-[minmax(0,1.15fr)_minmax(300px,1fr)] gap-28 py-8 narrow:grid-cols-1">
      <section>
        <div className="flex items-end gap-16">
          <Pick
            label="procedure"
            className="text-lead font-semibold"
            value={procedure.id}
            options={offered.map((o) => ({
              value: o.procedure.id,
              label: o.own ? `${o.procedure.label}, this shop’s own` : o.procedure.label,
            }))}
            onChange={choose}
          />
          <Link className="inline-flex min-h-tap flex-none items-center text-small text-soft" to="/procedures">
            write one from the book
          </Link>
        </div>
        <p className="mb-8 text-small text-soft">{procedure.why}</p>
        <TimeStrip steps={procedure.steps} results={last && runState(procedure, last.events).results} />
        <Steps procedure={procedure} run={last} />
        <Schools schools={schoolsAt('learn', file.vehicle.spec)} />
      </section>
      <section>
        <Conditions
          file={file}
          procedure={procedure}
          measured={measured}
          failed={failed}
          ticked={ticked}
          liveNow={liveNow}
          onTick={setTicked}
        />
        {procedure.id === SCAN_RESET.id && <Reset chosen={reset} onChoose={setReset} />}
        <div className="mx-0 my-8 gap-8 flex flex-wrap">
          <button type="button" className="act strong" disabled={!gate.ok} onClick={arm}>
            arm attempt {begun.length + 1}
          </button>
          {rest.length > 1 && (
            <button type="button" className="act" onClick={() => setTicked([...ticked, ...rest])}>
              all but the STOPs seen to
            </button>
          )}
        </div>
        {!gate.ok &&
          gate.refusals.map((r) => (
            <p key={r.message} className="wrong text-small">
              {r.message}
            </p>
          ))}
        <Attempts file={file} procedure={procedure} begun={begun} />
      </section>
    </div>
  )
}

/** Which learnt values are taken back: only what the work touched. */
function Reset({
  chosen,
  onChoose,
}: {
  chosen: readonly AdaptationId[]
  onChoose: (ids: readonly AdaptationId[]) => void
}) {
  return (
    <div role="group" aria-label="what is reset">
      <h2 className="mt-10 text-small text-soft">what is reset, and what the engine does until it is learnt again</h2>
      {ADAPTATIONS.map((a) => (
        <p key={a.id} className="grid grid-cols-[170px_1fr] items-center gap-10 border-b border-b-line py-2">
          <Tick
            checked={chosen.includes(a.id)}
            onChange={(on) => onChoose(on ? [...chosen, a.id] : chosen.filter((x) => x !== a.id))}
          >
            {a.label}
          </Tick>
          <span className="text-small leading-tight text-soft">{a.until}</span>
        </p>
      ))}
    </div>
  )
}

/** How each attempt went, and what is owed after one that passed. */
function Attempts({ file, procedure, begun }: { file: VisitFile; procedure: Procedure; begun: readonly RunRecord[] }) {
  if (!begun.length) return null
  const passed = begun.filter((r) => runState(procedure, r.events).status === 'passed').at(-1)
  // a round begun since has the new idle in it
  const owed = passed && roundToFill(file) > lastRound(file)
  const codes = passed && live(file.codes).some((c) => c.at > passed.at && c.when !== 'before')
  const to = (stage: string): string => `/visit/${encodeURIComponent(file.visit.id)}/${stage}`
  return (
    <>
      <h2 className="text-soft text-small">attempts</h2>
      <ol>
        {begun.map((r) => {
          const s = runState(procedure, r.events)
          return (
            <li key={r.id} data-attempt={r.attempt} data-status={s.status}>
              <b>
                {r.attempt}: {s.status}
              </b>{' '}
              <span className="text-small">{s.reason ?? ''}</span>
            </li>
          )
        })}
      </ol>
      {passed && (owed || !codes) && (
        <div className="mt-8 border-l-6 border-l-ink pl-12" data-owed>
          <p>Taken. Whether it took hold, the engine says:</p>
          {owed && (
            <Link className="inline-flex min-h-tap items-center font-semibold" to={to('prove')}>
              read the new idle
            </Link>
          )}{' '}
          {!codes && (
            <Link className="ml-16 inline-flex min-h-tap items-center font-semibold" to={to('first-start')}>
              read the codes
            </Link>
          )}
        </div>
      )}
    </>
  )
}

/** The steps one below the other, each with how far off it was last time. */
function Steps({ procedure, run }: { procedure: Procedure; run?: RunRecord }) {
  const state = run && runState(procedure, run.events)
  return (
    <ol className="gap-0 grid">
      {procedure.steps.map((s, i) => {
        const r = state?.results.find((x) => x.step === i)
        const seconds = stepSeconds(s.rule)
        return (
          <li
            className="border-b border-b-line grid grid-cols-[44px_1fr_96px_100px] min-h-50 items-center leading-tight narrow:grid-cols-[30px_1fr_80px_70px]"
            key={`${i} ${s.say}`}
          >
            <span className="fig text-figure">{i + 1}</span>
            <span>{s.say}</span>
            <span className="text-soft text-small">
              {seconds === undefined ? 'until the sign' : `${KIND_WORDS[s.rule.kind]} ${seconds} s`}
            </span>
            <span className="fig text-figure">
              {r ? (r.errorS === 0 ? 'in time' : `${r.errorS > 0 ? '+' : '−'}${Math.abs(r.errorS).toFixed(1)} s`) : ''}
            </span>
          </li>
        )
      })}
    </ol>
  )
}
