import { useCallback, useEffect, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import {
  closeDownOf,
  endOfRunMs,
  feedOfRun,
  feedWatch,
  FEED_PRECONDITIONS,
  HAZARDS,
  mayBegin,
  mayKeepLive,
  measuredForFeed,
  methodInfo,
  planOfRun,
  type FeedPlan,
  type FeedRunState,
  type RunEvent,
  type RunRecord,
  type VisitFile,
} from '@uvula/core'
import { HOTKEYS } from '../kit/hotkeys.js'
import { Tick } from '../kit/Tick.js'
import { useAwake } from '../kit/useAwake.js'
import { newestValues } from '../live/liveReadings.js'
import { useLive } from '../live/liveStore.js'
import { Failing } from '../parts/States.js'
import { StartTimer, useNow } from '../parts/Timers.js'
import { outbox } from '../store/outbox.js'
import { beep } from '../store/sound.js'
import { ownFields, useBay, useOutbox, useWriter } from '../store/visit.js'

/** A page that was asleep this long past a sound does not make up for it [ms]. */
const ASLEEP_MS = 1500
/** A page that follows asks this often [ms]. */
const FOLLOW_MS = 1000
const HIGH = 990
const LOW = 330
const COUNT = 660
const STOPPED = 220

const leadKey = (run: string): string => `uvula-leads-${run}`

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
  const [leads, setLeads] = useState(() => sessionStorage.getItem(leadKey(run.id)) === '1')
  const refused = writes.find((w) => w.noun === 'runs' && w.id === run.id && w.state === 'refused')
  const events = useRef(run.events)
  // a begin that was refused has not happened; else what was told a moment ago may not have come round yet
  if (refused || run.events.length >= events.current.length) events.current = run.events
  // what was told just now has happened, whatever the last tick says
  const now = Math.max(tick, endOfRunMs(run))
  const state = feedOfRun(file, run, now)!
  const watch = useFeedWatch(file, run)

  const tell = useCallback(
    (kind: RunEvent['kind'], atMs = performance.timeOrigin + performance.now()): void => {
      events.current = [...events.current, { kind, atMs }]
      if (HAZARDS.some((h) => h.kind === kind)) beep(STOPPED)
      write('runs', run.id, { ...ownFields(run), events: events.current })
    },
    [run, write],
  )
  const lead = (): void => {
    sessionStorage.setItem(leadKey(run.id), '1')
    setLeads(true)
  }
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
        onTick={(id) => write('runs', run.id, { ...ownFields(run), preconditions: [...run.preconditions, id] })}
        onBegin={() => {
          lead()
          tell('begin')
        }}
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
        onClosed={(id) => write('runs', run.id, { ...ownFields(run), preconditions: [...run.preconditions, id] })}
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
      onLead={lead}
      onHold={hold}
      tell={tell}
    />
  )
}

/** Opens and shuts by sound, exactly when it is due; a page that slept past a sound holds instead. */
function useClock({
  state,
  on,
  waits,
  tell,
}: {
  state: FeedRunState
  on: boolean
  waits: string | undefined
  tell: (kind: RunEvent['kind'], atMs?: number) => void
}): void {
  const { phase, dueMs } = state
  /** Held because live data said that it had not come back: it goes on by itself, counted in again. */
  const heldByLive = useRef(false)
  useEffect(() => {
    if (phase === 'count-in') heldByLive.current = false
  }, [phase])
  useEffect(() => {
    if (!on || dueMs === undefined) return
    const timer = setTimeout(
      () => {
        const atMs = Date.now()
        if (phase === 'shot') {
          beep(LOW)
          tell('shut', atMs)
        } else if (waits !== undefined || atMs > dueMs + ASLEEP_MS) {
          // a page that slept, and a hand, are waited for
          heldByLive.current = waits !== undefined && atMs <= dueMs + ASLEEP_MS
          tell('hold', atMs)
        } else {
          beep(HIGH)
          tell('open', atMs)
        }
      },
      Math.max(0, dueMs - Date.now()),
    )
    return () => clearTimeout(timer)
  }, [on, phase, dueMs, waits, tell])
  useEffect(() => {
    if (!on || phase !== 'held' || !heldByLive.current || waits !== undefined) return
    heldByLive.current = false
    tell('go', Date.now())
  }, [on, phase, waits, tell])
  useEffect(() => {
    if (!on || phase !== 'count-in' || dueMs === undefined) return
    const left = Math.ceil((dueMs - Date.now()) / 1000)
    const beats = Array.from({ length: Math.max(0, left) }, (_, k) =>
      setTimeout(() => beep(COUNT), Math.max(0, dueMs - 1000 * (k + 1) - Date.now())),
    )
    return () => beats.forEach((b) => clearTimeout(b))
  }, [on, phase, dueMs])
}

/** Each page sees what another one tells. */
function useFollow(visitId: string, on: boolean): void {
  const client = useQueryClient()
  useEffect(() => {
    if (!on) return
    const beat = setInterval(() => void client.invalidateQueries({ queryKey: ['visit', visitId] }), FOLLOW_MS)
    return () => clearInterval(beat)
  }, [client, on, visitId])
}

/** What live data say, where a link is open to this car; a simulated one speaks in the demo shop only. */
function useFeedWatch(file: VisitFile, run: RunRecord): ReturnType<typeof feedWatch> & { readonly rpm?: number } {
  const live = useLive()
  const { bay } = useBay()
  const { totalTrim } = measuredForFeed(file, Date.now())
  const simulated = live.state?.standIn === true
  if (live.state?.phase !== 'live' || !mayKeepLive(simulated, bay?.shop.demo === true).ok) return {}
  const samples = live.samples.slice(-300)
  return {
    ...feedWatch(samples, { rpm: run.feed!.rpm, trimPct: totalTrim === undefined ? undefined : 100 * totalTrim }),
    rpm: newestValues(samples).rpm,
  }
}

const SCREEN =
  'hands px-48 py-28 inset-0 overflow-auto fixed z-30 grid grid-rows-[auto_1fr_auto_auto] gap-8 select-none touch-manipulation narrow:p-18'
const BIG =
  'hands-figure font-semibold text-[length:min(44vh,_30vw)] leading-figure font-fig [font-variant-numeric:tabular-nums]'

function Ready({
  file,
  run,
  plan,
  problem,
  onTick,
  onBegin,
  onBack,
  onDrop,
}: {
  file: VisitFile
  run: RunRecord
  plan: FeedPlan
  problem: string | undefined
  onTick: (id: string) => void
  onBegin: () => void
  onBack: () => void
  onDrop: (() => void) | undefined
}) {
  const gate = mayBegin(file, run, useNow(1000))
  const m = methodInfo(plan.method)
  const open = FEED_PRECONDITIONS.filter((c) => !run.preconditions.includes(c.id))
  const others = gate.ok ? [] : gate.refusals.filter((r) => r.rule !== 'preconditions')
  return (
    <div className={`${SCREEN} bg-face text-ink`} data-status="ready">
      <h1 className="text-figure font-semibold">
        {plan.shots} shots of {plan.shotS} s at {plan.rpm.toFixed(0)} rpm
      </h1>
      <div>
        {open.map((c) => (
          <p key={c.id} className="mt-14 flex flex-wrap gap-12">
            <Tick checked={false} onChange={() => onTick(c.id)} className="min-h-60 border-current text-lead">
              STOP: {c.label}
            </Tick>
          </p>
        ))}
        {others.map((r) => (
          <p key={r.message} className="wrong mt-8" data-rule={r.rule}>
            {r.message}
          </p>
        ))}
        {problem && <p className="wrong mt-8">{problem}</p>}
        <p className="mt-14 text-lead">
          {plan.pressureBar === undefined ? '' : `Regulator at ${plan.pressureBar.toFixed(1)} bar. `}
          The clock counts 3 s in. High tone: open. Low tone: shut. Nothing is tapped unless something is wrong.
        </p>
        <p className="mt-8">
          {cap(m.hands!)}. Stopped by {m.stoppedBy}.
        </p>
        <p className="mt-8">
          <Link to="?view=speed">Speed to hold, for the second person’s tablet</Link>
        </p>
      </div>
      <div className="flex flex-wrap gap-12">
        <button
          type="button"
          className="act strong min-h-60 border-current text-lead"
          disabled={!gate.ok}
          onClick={onBegin}
        >
          begin
        </button>
        <button
          type="button"
          className="act min-h-60 border-current text-lead"
          onClick={() => {
            beep(HIGH)
            setTimeout(() => beep(LOW), 700)
          }}
        >
          hear both tones
        </button>
        <button type="button" className="act min-h-60 border-current text-lead" onClick={onBack}>
          back to the bench
        </button>
        {onDrop && (
          <button type="button" className="act min-h-60 border-current text-lead" onClick={onDrop}>
            take it off
          </button>
        )}
      </div>
    </div>
  )
}

/** What the hand does now, in one word. */
const WORDS: Readonly<Record<string, string>> = {
  'count-in': 'hand on the valve',
  shot: 'OPEN',
  pause: 'shut',
  held: 'held',
}

function Running({
  run,
  plan,
  state,
  now,
  waits,
  rpm,
  speedView,
  leads,
  onLead,
  onHold,
  tell,
}: {
  run: RunRecord
  plan: FeedPlan
  state: FeedRunState
  now: number
  waits: string | undefined
  rpm: number | undefined
  speedView: boolean
  leads: boolean
  onLead: () => void
  onHold: () => void
  tell: (kind: RunEvent['kind']) => void
}) {
  const { phase, dueMs } = state
  const left = dueMs === undefined ? 0 : (dueMs - now) / 1000
  const open = phase === 'shot'
  const lastShut = state.shots.at(-1)?.shutMs
  const each = plan.inlets === 2 ? ' at each inlet' : ''
  return (
    <div
      className={`${SCREEN} ${open ? 'bg-now text-now-ink' : 'bg-face text-ink'}`}
      data-status="running"
      data-phase={phase}
      data-shots={state.shots.length}
    >
      <h1 className="flex flex-wrap items-baseline justify-between gap-x-24 font-semibold">
        <span className="text-[length:min(12vh,_13vw)] leading-none">{WORDS[phase]}</span>
        <span className="fig text-figure">
          {state.fedMl.toFixed(1)} <small>of {run.feed!.doseMl.toFixed(0)} mL</small>
        </span>
      </h1>
      {speedView ? (
        <p className="self-center text-center" data-testid="hold-speed">
          <span className={BIG}>{(rpm ?? plan.rpm).toFixed(0)}</span>
          <span className="block text-figure">
            {rpm === undefined ? 'rpm to hold' : `rpm now: hold ${plan.rpm.toFixed(0)}`}
          </span>
        </p>
      ) : (
        <p className="self-center text-center">
          <span className={BIG} data-testid="seconds">
            {phase === 'held' ? '—' : Math.max(0, left).toFixed(open || left < 10 ? 1 : 0)}
          </span>
          <span className="block text-figure">
            {phase === 'held' ? 'the next shot waits for you' : open ? 's until shut' : 's until the next shot'}
          </span>
        </p>
      )}
      <div className="grid gap-4 text-lead">
        <p>
          {(plan.rateMlS / plan.inlets).toFixed(2)} mL/s{each} while open. Hold {plan.rpm.toFixed(0)} rpm
          {rpm === undefined ? '' : `, ${rpm.toFixed(0)} now`}. {state.leftShots} to go; film {state.filmMl.toFixed(1)}{' '}
          of {plan.limits.liquidMl.toFixed(1)} mL.
        </p>
        {state.longerS > 0 && phase === 'pause' && (
          <p className="border-l-6 border-l-current pl-10">
            The pause is {state.longerS.toFixed(0)} s longer: what was fed burns off first.
          </p>
        )}
        {waits !== undefined && !open && <p className="border-l-6 border-l-current pl-10">Waits: {waits}.</p>}
        {!leads && (
          <p className="border-l-6 border-l-current pl-10">
            Another page leads the clock.{' '}
            <button type="button" className="act border-current" onClick={onLead}>
              lead it here
            </button>
          </p>
        )}
      </div>
      <div className="grid gap-8">
        <div className="flex flex-wrap gap-8">
          <button type="button" className="act min-h-60 border-current text-lead" disabled={open} onClick={onHold}>
            {phase === 'held' ? 'go on' : 'hold'}
          </button>
          <button
            type="button"
            className="act min-h-60 border-current text-lead"
            disabled={open || lastShut === undefined}
            onClick={() => tell('shut-late')}
          >
            shut only now
          </button>
          <button
            type="button"
            className="act min-h-60 border-current text-lead"
            disabled={open || lastShut === undefined}
            onClick={() => tell('again')}
          >
            went in twice
          </button>
        </div>
        <div className="grid grid-cols-6 gap-8 narrow:grid-cols-3" role="group" aria-label="end the feed">
          {HAZARDS.map((h) => (
            <button
              key={h.kind}
              type="button"
              className="act stop min-h-60 justify-center border-current bg-[#14191a] px-6 text-lead leading-tight text-[#f1f3f0] narrow:text-body"
              onClick={() => tell(h.kind)}
            >
              {h.label}
            </button>
          ))}
        </div>
      </div>
    </div>
  )
}

/** How it ended, and how it is closed down: one step after the other. */
function Over({
  file,
  run,
  state,
  onClosed,
  onBack,
}: {
  file: VisitFile
  run: RunRecord
  state: FeedRunState
  onClosed: (id: string) => void
  onBack: () => void
}) {
  const steps = closeDownOf(run)
  const next = steps.findIndex((s) => !s.done)
  const soak = methodInfo(run.feed!.method).soakMinutes
  return (
    <div className={`${SCREEN} bg-face text-ink`} data-status={state.phase}>
      <h1 className="text-figure font-semibold">
        {state.phase === 'done' ? 'All in' : 'Stopped'}: {state.fedMl.toFixed(1)} mL in {state.shots.length}{' '}
        {state.shots.length === 1 ? 'shot' : 'shots'}
      </h1>
      <div className="grid content-start gap-8">
        {state.reason && <p className="wrong text-lead">{state.reason}</p>}
        {state.slips > 0 && (
          <p>
            {state.slips === 1 ? 'One shot was' : `${state.slips} shots were`} late, long or fed twice: counted as it
            was.
          </p>
        )}
        <p className="text-lead">Close down, in this order:</p>
        <ol className="grid gap-8" aria-label="close down">
          {steps.map((s, k) => (
            <li key={s.id}>
              <Tick
                checked={s.done}
                disabled={s.done || k !== next}
                onChange={() => onClosed(s.id)}
                className={`min-h-60 w-full text-lead ${k === next ? 'border-4' : ''}`}
              >
                {s.words}
              </Tick>
            </li>
          ))}
        </ol>
      </div>
      <div className="flex flex-wrap gap-12">
        {state.phase === 'done' && next < 0 && soak > 0 && (
          <StartTimer file={file} label="soak" kind="soak" seconds={60 * soak} />
        )}
        <button type="button" className="act strong min-h-60 border-current text-lead" onClick={onBack}>
          back to the bench
        </button>
      </div>
    </div>
  )
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
