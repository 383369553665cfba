import { useCallback, useRef } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate, useParams } from 'react-router'
import {
  CLEAR_OUT,
  live,
  mayBegin,
  procedureOfRun,
  runState,
  stepSeconds,
  type RunEvent,
  type RunRecord,
  type VisitFile,
} from '@uvula/core'
import { FeedRun } from './FeedRun.js'
import { HOTKEYS } from '../kit/hotkeys.js'
import { Tick } from '../kit/Tick.js'
import { useAwake } from '../kit/useAwake.js'
import { outbox } from '../store/outbox.js'
import { ownFields, useOutbox, useVisitFile, useWriter } from '../store/visit.js'
import { useNow } from '../parts/Timers.js'
import { beep } from '../store/sound.js'
import { Failing, Waiting } from '../parts/States.js'
import '../stages/open-up/flange.css'

/** A timed procedure with both hands busy: one figure, one sentence, one target. */
export function HandsBusy() {
  const { id = '', run: runId = '' } = useParams()
  const { file, error } = useVisitFile(id)
  const run = file && live(file.runs).find((r) => r.id === runId)
  if (error && !file) return <Failing error={error} />
  if (!file || !run) return <Waiting what="the procedure" />
  return run.procedure === 'feed' ? <FeedRun file={file} run={run} /> : <Run file={file} run={run} />
}

function Run({ file, run }: { file: VisitFile; run: RunRecord }) {
  const { write } = useWriter(file)
  const { writes } = useOutbox()
  const navigate = useNavigate()
  const procedure = procedureOfRun(run)
  const now = useNow(100)
  const events = useRef(run.events)
  events.current = run.events.length >= events.current.length ? run.events : events.current
  const state = procedure && runState(procedure, run.events)
  const refused = writes.find((w) => w.noun === 'runs' && w.id === run.id && w.state === 'refused')
  const armed = procedure?.preconditions.filter((c) => !run.preconditions.includes(c.id)) ?? []

  const add = useCallback(
    (kind: RunEvent['kind'], timeStamp: number): void => {
      // the event's own time: what the hand did, not when the page got round to it
      const atMs = performance.timeOrigin + timeStamp
      events.current = [...events.current, { kind, atMs }]
      beep(kind === 'stop' ? 220 : 880)
      write('runs', run.id, { ...ownFields(run), events: events.current }, { eventTime: timeStamp })
    },
    [run, write],
  )
  const running = state?.status === 'running'

  const keys = { ...HOTKEYS, enabled: running, preventDefault: true }
  useHotkeys('space', (e) => !e.repeat && add('tap', e.timeStamp), keys, [add])
  useHotkeys('backspace', (e) => add('back', e.timeStamp), keys, [add])
  useHotkeys('esc', (e) => add('stop', e.timeStamp), keys, [add])

  useAwake()

  if (!procedure || !state)
    return <Failing error={new Error(`No procedure of the name "${run.procedure}" is known here.`)} />
  const step = procedure.steps[state.step]
  const seconds = Math.max(0, (now - state.stepStartMs) / 1000)
  const meant = stepSeconds(step.rule)
  const stage = run.procedure === CLEAR_OUT.id ? 'first-start' : 'learn'
  const back = (): void => void navigate(`/visit/${encodeURIComponent(file.visit.id)}/${stage}`)
  const tick = (cid: string): void =>
    write('runs', run.id, { ...ownFields(run), preconditions: [...run.preconditions, cid] })
  const gate = mayBegin(file, run, now)

  if (state.status === 'ready')
    return (
      <div
        className="hands px-48 py-28 inset-0 overflow-hidden fixed z-30 grid grid-rows-[auto_1fr_auto_auto_auto] select-none touch-manipulation bg-face text-ink narrow:p-18"
        data-status="ready"
      >
        <h1 className="text-figure font-semibold">{procedure.label}</h1>
        <div>
          {armed.map((c) => (
            <p key={c.id} className="mt-14 gap-12 flex flex-wrap">
              <Tick checked={false} onChange={() => tick(c.id)} className="min-h-60 border-current text-lead">
                {c.stop ? 'STOP: ' : ''}
                {c.label}
              </Tick>
            </p>
          ))}
          {refused && <p className="wrong">{refused.problem}</p>}
        </div>
        <p className="text-figure leading-snug font-medium narrow:text-name">{procedure.steps[0].say}</p>
        <span />
        <div className="mt-14 gap-12 flex flex-wrap">
          <button
            type="button"
            className="act strong border-current min-h-60 text-lead"
            disabled={!gate.ok}
            onClick={(e) => add('begin', e.timeStamp)}
          >
            begin
          </button>
          <button type="button" className="act border-current min-h-60 text-lead" onClick={() => beep(880)}>
            test the sound
          </button>
          <button type="button" className="act border-current min-h-60 text-lead" onClick={back}>
            back to the bench
          </button>
          {refused && (
            <button
              type="button"
              className="act border-current min-h-60 text-lead"
              onClick={() => void outbox.drop(refused)}
            >
              take it off
            </button>
          )}
        </div>
      </div>
    )
  if (!running)
    return (
      <div
        className="hands px-48 py-28 inset-0 overflow-hidden fixed z-30 grid grid-rows-[auto_1fr_auto_auto_auto] select-none touch-manipulation bg-face text-ink narrow:p-18"
        data-status={state.status}
      >
        <h1 className="text-figure font-semibold">
          {procedure.label}, attempt {run.attempt}
        </h1>
        <p className="hands-figure font-semibold text-[length:min(52vh,_34vw)] leading-figure font-fig [font-variant-numeric:tabular-nums] self-center">
          {state.status}
        </p>
        <p className="text-figure leading-snug font-medium narrow:text-name">{state.reason ?? 'Every step in time.'}</p>
        <span />
        <div className="mt-14 gap-12 flex flex-wrap">
          <button type="button" className="act strong border-current min-h-60 text-lead" onClick={back}>
            back to the bench
          </button>
        </div>
      </div>
    )
  const figure = step.rule.kind === 'count' ? state.count : seconds.toFixed(meant !== undefined && meant <= 20 ? 1 : 0)
  return (
    <div
      className="hands px-48 py-28 inset-0 overflow-hidden fixed z-30 bg-now text-now-ink grid grid-rows-[auto_1fr_auto_auto_auto] select-none touch-manipulation narrow:p-18"
      data-status="running"
      data-step={state.step}
      role="button"
      tabIndex={0}
      aria-label="go on"
      onPointerDown={(e) => {
        // a button is never "anywhere"
        if (!(e.target as HTMLElement).closest('button')) add('tap', e.timeStamp)
      }}
    >
      <h1 className="text-figure font-semibold">
        Step {state.step + 1} of {procedure.steps.length}
      </h1>
      <p className="hands-figure font-semibold text-[length:min(52vh,_34vw)] leading-figure font-fig [font-variant-numeric:tabular-nums] self-center">
        {figure}
        <small className="text-[length:0.4em]"> {step.rule.kind === 'count' ? `of ${step.rule.times}` : 's'}</small>
      </p>
      <p className="text-figure leading-snug font-medium narrow:text-name">{step.say}</p>
      {meant !== undefined ? (
        <div className="hands-scale">
          <i style={{ left: `${Math.min(100, (100 * seconds) / meant)}%` }} />
        </div>
      ) : (
        <span />
      )}
      <div className="mt-14 gap-12 flex flex-wrap">
        <button
          type="button"
          className="act border-current min-h-60 text-lead"
          onClick={(e) => add('back', e.timeStamp)}
        >
          back one
        </button>
        <span>space or a tap anywhere goes on</span>
        <button
          type="button"
          className="act stop px-34 py-0 ml-auto border-current min-h-60 text-lead bg-[#14191a] text-[#f1f3f0]"
          onClick={(e) => add('stop', e.timeStamp)}
        >
          STOP
        </button>
      </div>
    </div>
  )
}
