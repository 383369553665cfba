import { useState } from 'react'
import { useNavigate } from 'react-router'
import {
  live,
  mayBegin,
  PROCEDURES,
  runState,
  stepSeconds,
  type Procedure,
  type RunRecord,
  type VisitFile,
} from '@uvula/core'
import { newId } from '../store/database.js'
import { useWriter } from '../store/visit.js'
import { Deposits } from './Clean.js'

/** Teaching the idle: whether it is needed, the steps with their times, attempts judged in tenths. */
export function Learn({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const navigate = useNavigate()
  const first = file.vehicle.spec.idleControl === 'idle-valve' ? PROCEDURES[1] : PROCEDURES[0]
  const [procedure, setProcedure] = useState<Procedure>(first)
  const [ticked, setTicked] = useState<readonly string[]>([])
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
    preconditions: ticked,
    events: [],
  }
  const gate = mayBegin(file, draft)
  const arm = (): void => {
    const run = `${file.visit.id}:run:${newId()}`
    write('runs', run, {
      visitId: file.visit.id,
      procedure: procedure.id,
      attempt: begun.length + 1,
      preconditions: ticked,
      events: [],
    })
    void navigate(`/visit/${encodeURIComponent(file.visit.id)}/run/${encodeURIComponent(run)}`)
  }
  const last = begun.at(-1)
  return (
    <div className="bench work">
      <section>
        <Deposits file={file} />
        <div className="views" role="group" aria-label="procedure">
          {PROCEDURES.map((p) => (
            <button key={p.id} type="button" aria-pressed={p.id === procedure.id} onClick={() => setProcedure(p)}>
              {p.label}
            </button>
          ))}
        </div>
        <Steps procedure={procedure} run={last} />
      </section>
      <section>
        <h2 className="soft small">before it is armed; measured or seen to</h2>
        <ul className="work-rows">
          {procedure.preconditions.map((c) => (
            <li key={c.id}>
              <span>
                {c.stop && <b>STOP </b>}
                {c.label}
              </span>
              <button
                type="button"
                className="act"
                aria-pressed={ticked.includes(c.id)}
                aria-label={`${c.label}: seen to`}
                onClick={() => setTicked(ticked.includes(c.id) ? ticked.filter((x) => x !== c.id) : [...ticked, c.id])}
              >
                seen to
              </button>
            </li>
          ))}
        </ul>
        <div className="row-acts">
          <button type="button" className="act strong" disabled={!gate.ok} onClick={arm}>
            arm attempt {begun.length + 1}
          </button>
        </div>
        {!gate.ok &&
          gate.refusals.map((r) => (
            <p key={r.rule} className="wrong small">
              {r.message}
            </p>
          ))}
        <h2 className="soft small">attempts</h2>
        <ol>
          {begun.map((r) => {
            const s = runState(procedure, r.events)
            return (
              <li key={r.id} data-attempt={r.attempt} data-status={s.status}>
                <b>
                  {r.attempt}: {s.status}
                </b>{' '}
                <span className="small">{s.reason ?? ''}</span>
              </li>
            )
          })}
        </ol>
      </section>
    </div>
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
    <ol className="steps-line">
      {procedure.steps.map((s, i) => {
        const r = state?.results.find((x) => x.step === i)
        return (
          <li key={s.say}>
            <span className="fig">{i + 1}</span>
            <span>{s.say}</span>
            <span className="small soft">{rule(stepSeconds(s.rule), s.rule.kind)}</span>
            <span className="fig">
              {r ? (r.errorS === 0 ? 'in time' : `${r.errorS > 0 ? '+' : '−'}${Math.abs(r.errorS).toFixed(1)} s`) : ''}
            </span>
          </li>
        )
      })}
    </ol>
  )
}
