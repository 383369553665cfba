import { Toggle } from 'radix-ui'
import {
  ledBand,
  ledSlotOf,
  SLOTS,
  LED_SLOTS,
  type LedHint,
  type LedSlot,
  type OperatingPoint,
  type Vehicle,
} from '@uvula/core'
import { useFormat } from '../words/format.js'

const SCALE_RPM = 4000
const at = (rpm: number): string => `${Math.min(100, Math.max(0, (100 * rpm) / SCALE_RPM))}%`

/** What to hold, on the scale of engine speed, and what has been got. */
export function Target({
  slot,
  hint,
  rpm,
  vehicle,
  got,
  points,
  recording,
  done,
  onChoose,
}: {
  slot: LedSlot
  hint: LedHint
  rpm: number | undefined
  vehicle: Vehicle
  got: ReadonlySet<LedSlot>
  points: readonly OperatingPoint[]
  recording: boolean
  done: boolean
  onChoose: (slot: LedSlot) => void
}) {
  const format = useFormat()
  const band = ledBand(slot, vehicle)
  const held = Math.min(hint.heldS, hint.needS)
  const say = done
    ? 'All points are in. Keep the recording.'
    : rpm === undefined && recording
      ? 'Waits for the link. What was recorded is kept.'
      : recording
        ? hint.say
        : 'Press record: then you are led from point to point.'
  /** The engine is being led now. */
  const on = recording && !done && rpm !== undefined
  return (
    <section
      className="px-gap pt-10 pb-6 border-b-2 border-b-ink gap-x-20 grid grid-cols-[290px_minmax(0,1fr)] [grid-template-areas:'rpm_say'_'rpm_held'_'scale_scale'_'led_led'] items-center phone:px-12 phone:py-8 phone:grid-cols-1 phone:[grid-template-areas:'say'_'rpm'_'held'_'scale'_'led']"
      aria-label="point to hold"
      data-slot={slot}
      data-hint={hint.state}
    >
      <p className="fig [grid-area:rpm] text-speed leading-figure text-right phone:text-bench phone:text-left">
        {rpm === undefined ? '·' : Math.round(rpm)}
        <small className="font-medium text-lead font-word"> rpm</small>
      </p>
      <div className="[grid-area:say] self-end text-name leading-snug">
        <p className="text-reading leading-none font-semibold phone:text-figure">{done ? 'done' : SLOTS[slot].label}</p>
        <p role="status">{say}</p>
      </div>
      <div
        className="gap-4 [grid-area:held] flex items-center h-34"
        role="img"
        aria-label={`held ${Math.round(held)} of ${hint.needS} s`}
      >
        {Array.from({ length: hint.needS }, (_, i) => (
          <i
            key={i}
            className={`border-2 border-ink flex-1 max-w-30 h-18 ${recording && !done && i < held ? 'on bg-ink' : ''}`}
          />
        ))}
        <span className="ml-8 whitespace-nowrap text-small">
          {done ? '' : recording ? `${Math.floor(held)} of ${hint.needS} s` : `${hint.needS} s each`}
        </span>
      </div>
      <div className="target-scale">
        {!done && (
          <div
            className={`top-8 absolute h-28 ${on ? 'bg-now' : 'bg-air'}`}
            style={{ left: at(band.low), width: `calc(${at(band.high)} - ${at(band.low)})` }}
          />
        )}
        {rpm !== undefined && (
          <div
            className="-ml-2 top-0 border-l-4 border-l-ink absolute h-38 before:top-0 before:-left-12 before:border-t-14 before:border-r-10 before:border-b-0 before:border-l-10 before:border-t-ink before:border-r-transparent before:border-b-transparent before:border-l-transparent before:absolute"
            style={{ left: at(rpm) }}
          />
        )}
        {[0, 1, 2, 3, 4].map((k) => (
          <span
            key={k}
            className="fig -ml-30 top-40 absolute w-60 text-center text-label"
            style={{ left: at(1000 * k) }}
          >
            {k * 1000}
          </span>
        ))}
      </div>
      <ol className="led gap-8 [grid-area:led] grid grid-cols-4 phone:grid-cols-2">
        {LED_SLOTS.map((s) => {
          const point = points.findLast((p) => ledSlotOf(p, vehicle) === s)
          const trim = point?.means.trim1_pct
          return (
            <li key={s}>
              <Toggle.Root
                className="w-full grid grid-cols-[30px_1fr] items-center leading-tight data-[state=on]:font-semibold data-[state=on]:shadow-[inset_0_-4px_0_var(--color-ink)]"
                pressed={s === slot && !done}
                data-got={got.has(s)}
                data-slot={s}
                onPressedChange={() => onChoose(s)}
              >
                <Ring full={got.has(s)} />
                <span>{SLOTS[s].label}</span>
                <span className="col-start-2 text-small">
                  {point ? (trim === undefined ? 'got it' : `got it, trim ${format('ratio', trim)}`) : ''}
                </span>
              </Toggle.Root>
            </li>
          )
        })}
      </ol>
    </section>
  )
}

const Ring = ({ full }: { full: boolean }) => (
  <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden>
    <circle cx="13" cy="13" r="9" className={`led-ring ${full ? 'full' : ''}`} />
  </svg>
)
