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
  return (
    <section
      className={recording && !done && rpm !== undefined ? 'target now-on' : 'target'}
      aria-label="point to hold"
      data-slot={slot}
      data-hint={hint.state}
    >
      <p className="fig target-rpm">
        {rpm === undefined ? '·' : Math.round(rpm)}
        <small> rpm</small>
      </p>
      <div className="target-say">
        <p className="target-name">{done ? 'done' : SLOTS[slot].label}</p>
        <p role="status">{say}</p>
      </div>
      <div className="target-held" role="img" aria-label={`held ${Math.round(held)} of ${hint.needS} s`}>
        {Array.from({ length: hint.needS }, (_, i) => (
          <i key={i} className={recording && !done && i < held ? 'on' : ''} />
        ))}
        <span className="small">
          {done ? '' : recording ? `${Math.floor(held)} of ${hint.needS} s` : `${hint.needS} s each`}
        </span>
      </div>
      <div className="target-scale">
        {!done && (
          <div
            className="target-band"
            style={{ left: at(band.low), width: `calc(${at(band.high)} - ${at(band.low)})` }}
          />
        )}
        {rpm !== undefined && <div className="target-pointer" style={{ left: at(rpm) }} />}
        {[0, 1, 2, 3, 4].map((k) => (
          <span key={k} className="fig target-label" style={{ left: at(1000 * k) }}>
            {k * 1000}
          </span>
        ))}
      </div>
      <ol className="led">
        {LED_SLOTS.map((s) => {
          const point = points.findLast((p) => ledSlotOf(p, vehicle) === s)
          const trim = point?.means.trim1_pct
          return (
            <li key={s}>
              <button
                type="button"
                aria-pressed={s === slot && !done}
                data-got={got.has(s)}
                data-slot={s}
                onClick={() => onChoose(s)}
              >
                <Ring full={got.has(s)} />
                <span>{SLOTS[s].label}</span>
                <span className="small">
                  {point ? (trim === undefined ? 'got it' : `got it, trim ${format('ratio', trim)}`) : ''}
                </span>
              </button>
            </li>
          )
        })}
      </ol>
    </section>
  )
}

const Ring = ({ full }: { full: boolean }) => (
  <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden>
    <circle cx="13" cy="13" r="9" className={full ? 'led-ring full' : 'led-ring'} />
  </svg>
)
