import { useState } from 'react'
import { useNavigate } from 'react-router'
import {
  lastRound,
  live,
  maybeChannel,
  mayBegin,
  measuredPreconditions,
  preconditionReading,
  proceduresFor,
  runState,
  schoolsAt,
  stepSeconds,
  type Precondition,
  type Procedure,
  type RunRecord,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Tick } from '../../kit/Tick.js'
import { sayTime, useFormat } from '../../words/format.js'
import { useNow } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { Schools } from '../../parts/Schools.js'
import { Deposits } from '../clean/Deposits.js'

/** Teaching the idle: whether it is needed, the steps with their times, attempts judged in tenths. */
export function Learn({ file }: { file: VisitFile }) {
  const procedures = proceduresFor(file.vehicle.spec)
  return procedures.length ? (
    <LearnBench file={file} procedures={procedures} />
  ) : (
    <p className="bench px-gap pt-40 pb-14 max-w-640 text-lead narrow:px-14">
      Nothing to teach: this engine has no controller that learns. Its idle is set by the stop screw, with the mixture.
    </p>
  )
}

function LearnBench({ file, procedures }: { file: VisitFile; procedures: readonly Procedure[] }) {
  const { write } = useWriter(file)
  const navigate = useNavigate()
  const [procedure, setProcedure] = useState<Procedure>(procedures[0])
  const [ticked, setTicked] = useState<readonly string[]>([])
  const now = useNow(1000)
  const measured = measuredPreconditions(file, procedure.preconditions, now)
  const seen = [...new Set([...ticked, ...measured])]
  const rest = procedure.preconditions.filter((c) => !c.stop && !seen.includes(c.id)).map((c) => c.id)
  const attempts = live(file.runs).filter((r) => r.procedure === procedure.id)
  const begun = attempts.filter((r) => r.events.length)
  const id = `${file.visit.id}:run:${procedure.id}:${attempts.length + 1}`
  const draft: RunRecord = {
    id,
    version: 0,
    by: '',
    at: '',
    visitId: file.visit.id,
    procedure: procedure.id,
    attempt: begun.length + 1,
    preconditions: seen,
    events: [],
  }
  const gate = mayBegin(file, draft, now)
  const arm = (): void => {
    const run = `${file.visit.id}:run:${newId()}`
    write('runs', run, {
      visitId: file.visit.id,
      procedure: procedure.id,
      attempt: begun.length + 1,
      preconditions: seen,
      events: [],
      afterRound: lastRound(file),
    })
    void navigate(`/visit/${encodeURIComponent(file.visit.id)}/run/${encodeURIComponent(run)}`)
  }
  const last = begun.at(-1)
  return (
    <div className="bench px-gap py-14 gap-28 grid grid-cols-[minmax(0,1fr)_minmax(300px,1.05fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section>
        <Deposits file={file} />
        <Choose
          label="procedure"
          look="line"
          className="flex flex-wrap items-center gap-x-20"
          value={procedure.id}
          choices={procedures.map((p) => ({ value: p.id, label: p.label }))}
          onChange={(id) => setProcedure(procedures.find((p) => p.id === id)!)}
        />
        <p className="text-small text-soft">{procedure.why}</p>
        <Steps procedure={procedure} run={last} />
        <Schools schools={schoolsAt('learn')} />
      </section>
      <section>
        <h2 className="text-soft text-small">before it is armed; measured or seen to</h2>
        <ul>
          {procedure.preconditions.map((c) => (
            <li
              className="border-b border-b-line gap-8 grid grid-cols-[1fr_auto_auto] items-center min-h-52 leading-tight"
              key={c.id}
            >
              <span>
                {c.stop && <b>STOP </b>}
                {c.label}
                <ReadSaid file={file} precondition={c} />
              </span>
              {measured.includes(c.id) ? (
                <b className="text-small">measured</b>
              ) : (
                <Tick
                  label={`${c.label}: seen to`}
                  checked={ticked.includes(c.id)}
                  onChange={(on) => setTicked(on ? [...ticked, c.id] : ticked.filter((x) => x !== c.id))}
                >
                  seen to
                </Tick>
              )}
            </li>
          ))}
        </ul>
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
      </section>
    </div>
  )
}

/** The reading that tells a precondition, and its age where it is too old to stand for a tick. */
function ReadSaid({ file, precondition }: { file: VisitFile; precondition: Precondition }) {
  const format = useFormat()
  const r = preconditionReading(file, precondition, Date.now())
  if (!r) return null
  const quantity = maybeChannel(r.reading.channel)!.quantity
  return (
    <span className="block text-small text-soft">
      {format(quantity, r.reading.value)} at {sayTime(r.reading.at)}
      {r.inside ? (r.fresh ? '' : ', too long ago to stand for it') : ', outside'}
    </span>
  )
}

const rule = (seconds: number | undefined, kind: string): string =>
  seconds === undefined
    ? 'until the sign'
    : `${{ exact: 'at', 'at-least': 'at least', 'at-most': 'at most', until: 'within', count: 'within' }[kind]} ${seconds} s`

/** The steps as a line, each with how far off it was last time. */
function Steps({ procedure, run }: { procedure: Procedure; run?: RunRecord }) {
  const state = run && runState(procedure, run.events)
  return (
    <ol className="gap-0 grid">
      {procedure.steps.map((s, i) => {
        const r = state?.results.find((x) => x.step === i)
        return (
          <li
            className="border-b border-b-line grid grid-cols-[44px_1fr_96px_100px] min-h-50 items-center leading-tight narrow:grid-cols-[30px_1fr_80px_70px]"
            key={s.say}
          >
            <span className="fig text-figure">{i + 1}</span>
            <span>{s.say}</span>
            <span className="text-soft text-small">{rule(stepSeconds(s.rule), s.rule.kind)}</span>
            <span className="fig text-figure">
              {r ? (r.errorS === 0 ? 'in time' : `${r.errorS > 0 ? '+' : '−'}${Math.abs(r.errorS).toFixed(1)} s`) : ''}
            </span>
          </li>
        )
      })}
    </ol>
  )
}
