import { afterTick, afterWorkOf, monitorsOf, readinessWiped, type AfterAct, type VisitFile } from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { StartTimer } from '../../parts/Timers.js'
import { Coolant, useTicks } from '../close-up/Coolant.js'
import { TIMER_WORDS } from './words.js'

const WHENS: readonly AfterAct['when'][] = ['before the start', 'starting', 'running', 'afterwards']

/** What this visit's work calls for after the last fastener, in its order: ticked, timed, and why. */
export function AfterWork({ file }: { file: VisitFile }) {
  const acts = afterWorkOf(file)
  const { tick } = useTicks(file)
  const next = acts.find((a) => !a.done)
  if (!acts.length) return null
  return (
    <div aria-label="after the work" role="group">
      {WHENS.map((when) => {
        const here = acts.filter((a) => a.when === when)
        return (
          here.length > 0 && (
            <section key={when} className="mb-8">
              <h2 className="text-small text-soft">{when}</h2>
              <ol>
                {here.map((a) => (
                  <li
                    key={a.id}
                    data-act={a.id}
                    data-done={a.done}
                    className={`grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-12 border-b border-b-line py-4 leading-tight ${a === next ? 'border-l-6 border-l-ink pl-10' : ''}`}
                  >
                    <span>
                      <span className={a.done ? 'text-soft' : 'font-semibold'}>{a.say}</span>
                      {!a.done && <span className="block text-small text-soft">{a.why}</span>}
                    </span>
                    {a.elsewhere ? (
                      <b className="text-small">{a.done ? 'seen to' : ''}</b>
                    ) : (
                      <Tick checked={a.done} label={`${a.say}: done`} onChange={() => !a.done && tick(afterTick(a.id))}>
                        done
                      </Tick>
                    )}
                    {a.waitS !== undefined && !a.done && (
                      <span className="col-span-full mt-4">
                        <StartTimer file={file} label={TIMER_WORDS[a.id] ?? a.id} kind="other" seconds={a.waitS} />
                      </span>
                    )}
                    {a.id === 'coolant' && !a.done && (
                      <span className="col-span-full">
                        <Coolant file={file} />
                      </span>
                    )}
                  </li>
                ))}
              </ol>
            </section>
          )
        )
      })}
    </div>
  )
}

/** Monitors that are not ready any more, and what a drive must give each. */
export function Readiness({ file }: { file: VisitFile }) {
  if (!readinessWiped(file)) return null
  return (
    <section className="mt-8" aria-label="readiness">
      <h2 className="text-small text-soft">
        readiness is gone by this work; each comes back by its own stretch of a drive
      </h2>
      <ul>
        {monitorsOf(file).map((m) => (
          <li
            key={m.id}
            className="grid grid-cols-[190px_1fr] gap-10 border-b border-b-line py-6 leading-tight narrow:grid-cols-1"
          >
            <b>{m.label}</b>
            <span className="text-small">{m.needs}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
