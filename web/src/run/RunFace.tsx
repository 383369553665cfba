import './run.css'
import type { PointerEvent } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { runState, stepSeconds, type Procedure, type RunEvent } from '@uvula/core'
import { HOTKEYS } from '../kit/hotkeys.js'
import { Tick } from '../kit/Tick.js'
import { useAwake } from '../kit/useAwake.js'
import { useNow } from '../parts/Timers.js'
import { beep } from '../store/sound.js'

const SHEET =
  'hands px-48 py-28 inset-0 overflow-hidden fixed z-30 grid grid-rows-[auto_1fr_auto_auto_auto] select-none touch-manipulation narrow:p-18'
const BUTTON = 'act border-current min-h-60 text-lead'
const FIGURE =
  'hands-figure font-semibold text-[length:min(52vh,_34vw)] leading-figure font-fig [font-variant-numeric:tabular-nums] self-center'
const SENTENCE = 'text-figure leading-snug font-medium narrow:text-name'
/** Seconds up to which tenths are shown. */
const TENTHS_S = 20
const TAP_HZ = 880
const STOP_HZ = 220

/** Who leads a run on another page, and how to take it over. */
interface Watch {
  readonly by?: string
  readonly onLead: () => void
}

/** A timed procedure with both hands busy: one figure, one sentence, one target. */
export function RunFace({
  procedure,
  title,
  events,
  unseen,
  mayBegin,
  refusal,
  onTick,
  onEvent,
  onBack,
  watch,
  ready,
}: {
  procedure: Procedure
  /** What stands over its end. */
  title: string
  events: readonly RunEvent[]
  /** Conditions that nobody has seen to yet. */
  unseen: Procedure['preconditions']
  mayBegin: boolean
  /** What stands against it, in words. */
  refusal?: string
  onTick: (condition: string) => void
  /** @param timeStamp - of the key's or pointer's own event [ms since the page began] */
  onEvent: (kind: RunEvent['kind'], timeStamp: number) => void
  onBack: () => void
  /** Where another page leads it; then only STOP is taken from here. */
  watch?: Watch
  /** More to choose before it begins. */
  ready?: React.ReactNode
}) {
  const now = useNow(100)
  const state = runState(procedure, events)
  const running = state.status === 'running'
  const add = (kind: RunEvent['kind'], timeStamp: number): void => {
    beep(kind === 'stop' ? STOP_HZ : TAP_HZ)
    onEvent(kind, timeStamp)
  }
  const keys = { ...HOTKEYS, enabled: running && !watch, preventDefault: true }
  useHotkeys('space', (e) => !e.repeat && add('tap', e.timeStamp), keys, [add])
  useHotkeys('backspace', (e) => add('back', e.timeStamp), keys, [add])
  useHotkeys('esc', (e) => add('stop', e.timeStamp), { ...keys, enabled: running }, [add])
  useAwake()

  if (state.status === 'ready')
    return (
      <div className={`${SHEET} bg-face text-ink`} data-status="ready">
        <h1 className="text-figure font-semibold">{procedure.label}</h1>
        <div className="min-h-0 overflow-y-auto">
          {unseen.map((c) => (
            <p key={c.id} className="mt-14 gap-12 flex flex-wrap">
              <Tick checked={false} onChange={() => onTick(c.id)} className="min-h-60 border-current text-lead">
                {c.stop ? 'STOP: ' : ''}
                {c.label}
              </Tick>
            </p>
          ))}
          {refusal && <p className="wrong">{refusal}</p>}
        </div>
        <p className={SENTENCE}>{procedure.steps[0].say}</p>
        <span />
        <div className="mt-14 gap-12 flex flex-wrap">
          <button
            type="button"
            className={`${BUTTON} strong`}
            disabled={!mayBegin}
            onClick={(e) => add('begin', e.timeStamp)}
          >
            begin
          </button>
          <button type="button" className={BUTTON} onClick={() => beep(TAP_HZ)}>
            test the sound
          </button>
          <button type="button" className={BUTTON} onClick={onBack}>
            back to the bench
          </button>
          {ready}
        </div>
      </div>
    )
  if (!running)
    return (
      <div className={`${SHEET} bg-face text-ink`} data-status={state.status}>
        <h1 className="text-figure font-semibold">{title}</h1>
        <p className={FIGURE}>{state.status}</p>
        <p className={SENTENCE}>{state.reason ?? 'Every step in time.'}</p>
        <span />
        <div className="mt-14 gap-12 flex flex-wrap">
          <button type="button" className={`${BUTTON} strong`} onClick={onBack}>
            back to the bench
          </button>
        </div>
      </div>
    )
  const step = procedure.steps[state.step]
  const seconds = Math.max(0, (now - state.stepStartMs) / 1000)
  const meant = stepSeconds(step.rule)
  const counts = step.rule.kind === 'count'
  const figure = counts ? state.count : seconds.toFixed(meant !== undefined && meant <= TENTHS_S ? 1 : 0)
  return (
    <div
      // nothing is to be done now where it is only watched
      className={`${SHEET} ${watch ? 'bg-face text-ink' : 'bg-now text-now-ink'}`}
      data-status="running"
      data-step={state.step}
      {...(watch
        ? {}
        : {
            role: 'button',
            tabIndex: 0,
            'aria-label': 'go on',
            onPointerDown: (e: PointerEvent<HTMLElement>) => {
              // a button is never "anywhere"
              if (!(e.target as HTMLElement).closest('button')) add('tap', e.timeStamp)
            },
          })}
    >
      <h1 className="text-figure font-semibold">
        Step {state.step + 1} of {procedure.steps.length}
      </h1>
      <p className={FIGURE}>
        {figure}
        <small className="text-[length:0.4em]"> {step.rule.kind === 'count' ? `of ${step.rule.times}` : 's'}</small>
      </p>
      <p className={SENTENCE}>{step.say}</p>
      {meant !== undefined ? (
        <div className="hands-scale">
          <i style={{ left: `${Math.min(100, (100 * seconds) / meant)}%` }} />
        </div>
      ) : (
        <span />
      )}
      <Foot watch={watch} onEvent={add} />
    </div>
  )
}

/** What can be done while it runs: going back and STOP; where another page leads, taking it over and STOP. */
function Foot({
  watch,
  onEvent: add,
}: {
  watch?: Watch
  onEvent: (kind: RunEvent['kind'], timeStamp: number) => void
}) {
  return (
    <div className="mt-14 gap-12 flex flex-wrap items-center">
      {watch ? (
        <>
          <span className="text-lead">
            {watch.by === undefined ? 'No page leads this run.' : `${watch.by} leads this run on another page.`}
          </span>
          <button type="button" className={BUTTON} onClick={watch.onLead}>
            lead it here
          </button>
        </>
      ) : (
        <>
          <button type="button" className={BUTTON} onClick={(e) => add('back', e.timeStamp)}>
            back one
          </button>
          <span>space or a tap anywhere goes on</span>
        </>
      )}
      <button
        type="button"
        className="act stop px-34 py-0 ml-auto border-current min-h-60 text-lead bg-[#14191a] text-[#f1f3f0]"
        onClick={(e) => add('stop', e.timeStamp)}
      >
        STOP
      </button>
    </div>
  )
}
