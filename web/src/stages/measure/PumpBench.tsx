import { useEffect, useState } from 'react'
import {
  formatIn,
  gaugeProblem,
  mayTake,
  parseTyped,
  PUMP_PARTS,
  pumpPartsOf,
  pumpSaid,
  roundToFill,
  TAKEN_STOPS,
  takenOf,
  vehicleAtPlace,
  type PumpPartId,
  type PumpSample,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { FieldRow } from '../../kit/FieldRow.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { newId } from '../../store/database.js'
import { useUnit } from '../../store/settings.js'
import { beep } from '../../store/sound.js'
import { useWriter } from '../../store/visit.js'

/** When the gauge is read [s after pumping]. */
const READ_AT = [0, 10, 20, 40, 60] as const
const TONE_HZ = 660

/** Seconds since a start by this device's clock; a tone at each moment that is read. */
function useSeconds(from: number | undefined): number | undefined {
  const [now, setNow] = useState(0)
  useEffect(() => {
    if (from === undefined) return undefined
    let told = 0
    const timer = setInterval(() => {
      const s = (performance.now() - from) / 1000
      setNow(s)
      if (READ_AT[told + 1] !== undefined && s >= READ_AT[told + 1]) {
        told++
        beep(TONE_HZ)
      }
    }, 200)
    return () => clearInterval(timer)
  }, [from])
  return from === undefined ? undefined : now
}

/** Hold and decay: pump, close, read at five moments; what it loses, how large the leak is, where it opens. */
export function PumpBench({ file }: { file: VisitFile }) {
  const { write, remove } = useWriter(file)
  const unit = useUnit('pressure')
  const parts = pumpPartsOf(file.vehicle.spec)
  const [part, setPart] = useState<PumpPartId>(parts[0].id)
  const [from, setFrom] = useState<number>()
  const [typed, setTyped] = useState<Readonly<Record<number, string>>>({})
  const [problem, setProblem] = useState<string>()
  const seconds = useSeconds(from)
  const { altitudeM } = vehicleAtPlace(file)
  const kept = takenOf(file.balances, 'pump')
  const gate = mayTake(file, { kind: 'pump' })
  const keep = (): void => {
    if (!gate.ok) return setProblem(gate.refusals[0].message)
    const samples: PumpSample[] = []
    for (const t of READ_AT) {
      const text = typed[t]?.trim()
      if (!text) continue
      const read = parseTyped(text, 'pressure', unit)
      if (!read.ok) return setProblem(`At ${t} s: ${read.message}`)
      samples.push({ t, kpa: read.value })
    }
    if (samples.length < 2) return setProblem('Two figures at least: one alone says nothing.')
    const wrong = samples.map((x) => gaugeProblem(x.kpa, altitudeM)).find(Boolean)
    if (wrong) return setProblem(wrong)
    setProblem(undefined)
    setTyped({})
    setFrom(undefined)
    write('balances', `${file.visit.id}:pump:${newId()}`, {
      visitId: file.visit.id,
      round: roundToFill(file),
      taken: { kind: 'pump', part, samples },
    })
  }
  return (
    <div className="grid grid-cols-[230px_minmax(0,1fr)_minmax(280px,1fr)] gap-gap py-8 narrow:grid-cols-1">
      <Choose
        label="part"
        look="edge"
        className="flex flex-col items-stretch"
        value={part}
        choices={parts.map((p) => ({ value: p.id, label: p.label }))}
        onChange={setPart}
      />
      <section>
        <p className="mb-6 text-small text-soft">
          Engine off. Pump to about 60 kPa, stop, start the clock, and read at each tone.
        </p>
        {TAKEN_STOPS.pump
          .filter((stop) => !stopSeen(file, stop))
          .map((stop) => (
            <Stop key={stop} file={file} id={stop} />
          ))}
        <button
          type="button"
          disabled={!gate.ok}
          className="act strong mb-8 w-full justify-center"
          onClick={() => setFrom(from === undefined ? performance.now() : undefined)}
        >
          {seconds === undefined ? 'pumped: start the clock' : `${seconds.toFixed(0)} s: stop`}
        </button>
        <ol aria-label="held">
          {READ_AT.map((t) => (
            <FieldRow
              key={t}
              id={`pump-${t}`}
              label={`at ${t} s`}
              unit={unit.symbol}
              strong={seconds !== undefined && seconds >= t}
              value={typed[t] ?? ''}
              onText={(text) => setTyped({ ...typed, [t]: text })}
              onEnter={keep}
            />
          ))}
        </ol>
        {problem && (
          <p className="wrong" role="alert">
            {problem}
          </p>
        )}
        <button
          type="button"
          className="act mt-8 w-full justify-center"
          disabled={!gate.ok || Object.values(typed).every((x) => !x.trim())}
          onClick={keep}
        >
          keep what it held
        </button>
      </section>
      <section>
        {!kept.length && <p className="text-soft">Nothing was tried with the pump yet.</p>}
        <ol>
          {[...kept].reverse().map((b) => (
            <li key={b.id} className="border-b border-b-line py-8" data-pumped={b.taken.part}>
              <b>{PUMP_PARTS.find((p) => p.id === b.taken.part)?.label}</b>
              <p>{pumpSaid(b.taken.samples, altitudeM)}</p>
              <p className="flex items-center justify-between gap-12 text-small text-soft">
                <span className="fig">
                  {b.taken.samples.map((s) => `${s.t} s ${formatIn(s.kpa, unit)}`).join('  ·  ')} {unit.symbol}
                </span>
                <button type="button" onClick={() => remove('balances', b.id)}>
                  leave out
                </button>
              </p>
            </li>
          ))}
        </ol>
      </section>
    </div>
  )
}
