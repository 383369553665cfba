import { useCallback, useEffect, useRef } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate, useSearchParams } from 'react-router'
import {
  endOfRunMs,
  feedOfRun,
  HAZARDS,
  planOfRun,
  type FeedPlan,
  type RunEvent,
  type RunRecord,
  type VisitFile,
} from '@uvula/core'
import { HOTKEYS } from '../kit/hotkeys.js'
import { useAwake } from '../kit/useAwake.js'
import { Failing } from '../parts/States.js'
import { useNow } from '../parts/Timers.js'
import { outbox } from '../store/outbox.js'
import { beep } from '../store/sound.js'
import { ownFields, useOutbox, useWriter } from '../store/visit.js'
import { STOPPED } from './feedLooks.js'
import { useClock, useFollow, useFeedWatch } from './feedClock.js'
import { Ready } from './FeedReady.js'
import { Running } from './FeedRunning.js'
import { Over } from './FeedOver.js'
import { shopTimeOf } from '../store/clock.js'
import { leadOf, meLeading, toldFields } from './useLead.js'

/** A feed with both hands busy: the clock leads, and a tap is for trouble only. */
export function FeedRun({ file, run }: { file: VisitFile; run: RunRecord }) {
  const planned = run.feed && planOfRun(file, { ...run.feed, feedRunning: false })
  if (!planned?.ok) return <Failing error={new Error('This feed is refused as things stand: make its plan again.')} />
  return <Led file={file} run={run} plan={planned.plan} />
}

function Led({ file, run, plan }: { file: VisitFile; run: RunRecord; plan: FeedPlan }) {
  const { write } = useWriter(file)
  const { writes } = useOutbox()
  const navigate = useNavigate()
  const [params] = useSearchParams()
  const speedView = params.get('view') === 'speed'
  const tick = useNow(100)
  const { leads, other } = leadOf(run)
  const refused = writes.find((w) => w.noun === 'runs' && w.id === run.id && w.state === 'refused')
  const events = useRef(run.events)
  // a begin that was refused has not happened; else what was told a moment ago may not have come round yet
  if (refused || run.events.length >= events.current.length) events.current = run.events
  // what was told just now has happened, whatever the last tick says
  const now = Math.max(tick, endOfRunMs(run))
  const state = feedOfRun(file, run, now)!
  const watch = useFeedWatch(file, run)

  const tell = useCallback(
    (kind: RunEvent['kind'], atMs = shopTimeOf(performance.now())): void => {
      events.current = [...events.current, { kind, atMs }]
      if (HAZARDS.some((h) => h.kind === kind)) beep(STOPPED)
      const leader = kind === 'begin' ? { leader: meLeading() } : {}
      write('runs', run.id, { ...toldFields(run), ...leader, events: events.current })
    },
    [run, write],
  )
  const lead = (): void => write('runs', run.id, { ...ownFields(run), leader: meLeading() })
  const going = ['count-in', 'shot', 'pause', 'held'].includes(state.phase)
  useClock({ state, on: leads && going, waits: watch.waits, tell })
  useFollow(file.visit.id, going)
  useAwake()

  // what live data end is ended once, by the page that leads
  const ends = leads && going ? watch.end : undefined
  useEffect(() => {
    if (ends) tell(ends)
  }, [ends]) // eslint-disable-line react-hooks/exhaustive-deps

  const hold = (): void => tell(state.phase === 'held' ? 'go' : 'hold')
  const keys = { ...HOTKEYS, enabled: going, preventDefault: true }
  useHotkeys('space', (e) => !e.repeat && state.phase !== 'shot' && hold(), keys, [hold])
  useHotkeys('esc', () => tell('stop'), keys, [tell])

  const back = (): void => void navigate(`/visit/${encodeURIComponent(file.visit.id)}/decarbonize`)
  if (state.phase === 'ready')
    return (
      <Ready
        file={file}
        run={run}
        plan={plan}
        problem={refused?.problem}
        onTick={(id) => write('runs', run.id, { ...toldFields(run), preconditions: [...run.preconditions, id] })}
        onBegin={() => tell('begin')}
        onBack={back}
        onDrop={refused && (() => void outbox.drop(refused))}
      />
    )
  if (!going)
    return (
      <Over
        file={file}
        run={run}
        state={state}
        onClosed={(id) => write('runs', run.id, { ...toldFields(run), preconditions: [...run.preconditions, id] })}
        onBack={back}
      />
    )
  return (
    <Running
      run={run}
      plan={plan}
      state={state}
      now={now}
      waits={watch.waits}
      rpm={watch.rpm}
      speedView={speedView}
      leads={leads}
      other={other}
      onLead={lead}
      onHold={hold}
      tell={tell}
    />
  )
}
