import { stepSeconds, type ProcedureStep, type StepResult } from '@uvula/core'
import { FLOOR } from './words.js'

/** A step that only a sign ends is drawn as long as this [s]. */
const UNTIL_S = 15
/** More ticks than this are one hatch. */
const TICKS_MOST = 12

/**
 * The steps of a procedure as one strip of time, each as long as it lasts by a scale that keeps short ones readable: a band
 * where it must be ended, a tick for each time it is done, and how far off each was last time.
 */
export function TimeStrip({
  steps,
  results = [],
  wrong,
}: {
  steps: readonly ProcedureStep[]
  /** How they were done last, errors drawn on them. */
  results?: readonly StepResult[]
  /** Step at fault, 1 first. */
  wrong?: number
}) {
  return (
    <ol className="time-strip flex border-l-3 border-ink" aria-label={`${steps.length} steps on a scale of time`}>
      {steps.map(({ rule }, i) => {
        const seconds = stepSeconds(rule)
        const length = Math.log1p(Math.max(0, seconds ?? UNTIL_S) || 0)
        const band = rule.kind === 'exact' && rule.seconds > 0 ? Math.min(0.5, rule.toleranceS / rule.seconds) : 0
        const ticks = rule.kind === 'count' ? Math.min(TICKS_MOST, rule.times || 0) : 0
        const r = results.find((k) => k.step === i)
        const off = r && seconds ? Math.max(-0.9, Math.min(0, r.errorS / seconds)) : 0
        return (
          <li
            key={i}
            className={`min-w-34 basis-34 text-label leading-tight ${wrong === i + 1 ? 'bg-now text-now-ink' : ''}`}
            style={{ flexGrow: length }}
            data-strip={i + 1}
          >
            <span className="fig pl-4 text-lead font-semibold">{i + 1}</span>
            <span className={`relative flex h-24 items-end justify-evenly border-r-2 ${FLOOR[rule.kind]}`}>
              {band > 0 && (
                <span className="absolute right-0 bottom-0 h-20 bg-air" style={{ width: `max(6px, ${100 * band}%)` }} />
              )}
              {Array.from({ length: ticks }, (_, k) => (
                <span key={k} className="h-14 w-2 bg-ink" />
              ))}
              {r && r.errorS !== 0 && (
                <span
                  className="absolute bottom-0 h-24 w-5 bg-ink"
                  style={{ left: `calc(${100 + 100 * off}% - 5px)` }}
                  data-off={r.errorS.toFixed(1)}
                />
              )}
            </span>
            <span className="pl-4 text-soft">{seconds === undefined ? 'sign' : seconds || '–'}</span>
          </li>
        )
      })}
    </ol>
  )
}
