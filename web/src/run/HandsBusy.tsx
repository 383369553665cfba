import { useCallback, useRef } from 'react'
import { useNavigate, useParams } from 'react-router'
import { CLEAR_OUT, live, mayBegin, procedureOfRun, type RunEvent, type RunRecord, type VisitFile } from '@uvula/core'
import { Failing, Waiting } from '../parts/States.js'
import { useNow } from '../parts/Timers.js'
import { outbox } from '../store/outbox.js'
import { ownFields, useOutbox, useVisitFile, useWriter } from '../store/visit.js'
import { FeedRun } from './FeedRun.js'
import { RunFace } from './RunFace.js'
import { shopTimeOf } from '../store/clock.js'
import { leadOf, meLeading, toldFields } from './useLead.js'

/** The run of an address: a feed led by the clock, or a procedure led by its steps. */
export function HandsBusy() {
  const { id = '', run: runId = '' } = useParams()
  const { file, error } = useVisitFile(id)
  const run = file && live(file.runs).find((r) => r.id === runId)
  if (error && !file) return <Failing error={error} />
  if (!file || !run) return <Waiting what="the procedure" />
  return run.procedure === 'feed' ? <FeedRun file={file} run={run} /> : <Run file={file} run={run} />
}

/** A run of a visit: every event is written as it happens. */
function Run({ file, run }: { file: VisitFile; run: RunRecord }) {
  const { write } = useWriter(file)
  const { writes } = useOutbox()
  const navigate = useNavigate()
  const procedure = procedureOfRun(run)
  const now = useNow(500)
  const events = useRef(run.events)
  events.current = run.events.length >= events.current.length ? run.events : events.current
  const refused = writes.find((w) => w.noun === 'runs' && w.id === run.id && w.state === 'refused')
  const { leads, other } = leadOf(run)
  const add = useCallback(
    (kind: RunEvent['kind'], timeStamp: number): void => {
      // the event's own time: what the hand did, not when the page got round to it
      const atMs = shopTimeOf(timeStamp)
      events.current = [...events.current, { kind, atMs }]
      const leader = kind === 'begin' ? { leader: meLeading() } : {}
      write('runs', run.id, { ...toldFields(run), ...leader, events: events.current }, { eventTime: timeStamp })
    },
    [run, write],
  )
  if (!procedure) return <Failing error={new Error(`No procedure of the name "${run.procedure}" is known here.`)} />
  const stage = run.procedure === CLEAR_OUT.id ? 'first-start' : 'learn'
  return (
    <RunFace
      procedure={procedure}
      title={`${procedure.label}, attempt ${run.attempt}`}
      events={run.events}
      unseen={procedure.preconditions.filter((c) => !run.preconditions.includes(c.id))}
      mayBegin={mayBegin(file, run, now).ok}
      refusal={refused?.problem}
      onTick={(c) => write('runs', run.id, { ...toldFields(run), preconditions: [...run.preconditions, c] })}
      onEvent={add}
      watch={
        leads
          ? undefined
          : { by: other, onLead: () => write('runs', run.id, { ...ownFields(run), leader: meLeading() }) }
      }
      onBack={() => void navigate(`/visit/${encodeURIComponent(file.visit.id)}/${stage}`)}
      ready={
        refused && (
          <button
            type="button"
            className="act border-current min-h-60 text-lead"
            onClick={() => void outbox.drop(refused)}
          >
            take it off
          </button>
        )
      }
    />
  )
}
