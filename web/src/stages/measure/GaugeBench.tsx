import { useState } from 'react'
import {
  formatIn,
  gaugeProblem,
  gaugeSeen,
  hasSteadyVacuum,
  live,
  NEEDLES,
  roundToFill,
  SLOTS,
  takenOf,
  vehicleAtPlace,
  type ChannelId,
  type GaugeSeen,
  type Slot,
  type Unit,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Readings } from '../../parts/Readings.js'
import { useUnit } from '../../store/settings.js'
import { useWriter } from '../../store/visit.js'
import { useFormat } from '../../words/format.js'
import { GAUGE_HOW, GAUGE_SLOTS } from './words.js'
import './gauge.css'

/** The gauge sheet: what it shows, what the engine feels, what belongs here, and how the needle moves. */
export function GaugeBench({ file }: { file: VisitFile }) {
  const [slot, setSlot] = useState<Slot>('idle')
  const round = roundToFill(file)
  const { write, remove } = useWriter(file)
  const vacuum = (s: Slot): number | undefined =>
    live(file.readings).find((r) => r.round === round && r.slot === s && r.channel === 'gauge_vacuum_kpa')?.value
  const unit = useUnit('pressure')
  const format = useFormat()
  const kpa = vacuum(slot)
  const wrong = kpa === undefined ? undefined : gaugeProblem(kpa, vehicleAtPlace(file).altitudeM)
  const seen =
    kpa === undefined || wrong
      ? undefined
      : gaugeSeen(kpa, {
          vehicle: vehicleAtPlace(file),
          kind: SLOTS[slot].kind as 'idle',
          rpm: SLOTS[slot].rpm,
          ambientC: file.visit.ambientC,
        })
  const needle = takenOf(file.balances, 'needle').find((b) => b.round === round)
  const channels: ChannelId[] = slot === 'idle' ? ['gauge_vacuum_kpa', 'rpm'] : ['gauge_vacuum_kpa']
  return (
    <div className="grid grid-cols-[190px_minmax(0,1fr)_minmax(340px,1fr)] gap-gap py-8 narrow:grid-cols-1">
      <Choose
        label="moment"
        look="edge"
        className="flex flex-col items-stretch narrow:flex-row narrow:flex-wrap narrow:gap-x-8 narrow:pr-14"
        value={slot}
        choices={GAUGE_SLOTS.map((s) => {
          const read = vacuum(s)
          return {
            value: s,
            name: SLOTS[s].label,
            label: (
              <span className="flex w-full items-baseline justify-between gap-8">
                {SLOTS[s].label}
                <b className="fig">{read === undefined ? '' : format('pressure', read)}</b>
              </span>
            ),
          }
        })}
        onChange={setSlot}
      />
      <section>
        <p className="mb-6 text-small text-soft">{GAUGE_HOW[slot]}</p>
        <Readings key={slot} file={file} slot={slot} round={round} channels={channels} />
        {wrong && (
          <p className="wrong mt-8" role="alert">
            {wrong}
          </p>
        )}
        {seen && <Seen seen={seen} unit={unit} />}
      </section>
      {hasSteadyVacuum(file.vehicle.spec) && (
        <section aria-label="needle">
          <p className="mb-6 text-small text-soft">How does the needle move?</p>
          <div className="grid gap-4">
            {NEEDLES.map((n) => {
              const on = needle?.taken.needle === n.id
              return (
                <button
                  key={n.id}
                  type="button"
                  aria-pressed={on}
                  className="act grid min-h-tap grid-cols-[64px_minmax(0,1fr)] items-center gap-8 py-2 text-left leading-tight"
                  onClick={() =>
                    on
                      ? remove('balances', needle.id)
                      : write('balances', `${file.visit.id}:${round}:needle`, {
                          visitId: file.visit.id,
                          round,
                          taken: { kind: 'needle', needle: n.id },
                        })
                  }
                >
                  <LittleGauge behaviour={n.id.replace('needle.', '')} />
                  <span>
                    <b>{n.label}</b>
                    <span className="block text-small">{n.look}</span>
                  </span>
                </button>
              )
            })}
          </div>
          {needle && (
            <p className="mt-8 text-small">
              It counts in the diagnosis: {NEEDLES.find((n) => n.id === needle.taken.needle)?.reason}.
            </p>
          )}
        </section>
      )}
    </div>
  )
}

/** What the gauge shows beside what the engine feels: the two are never the same figure. */
function Seen({ seen, unit }: { seen: GaugeSeen; unit: Unit }) {
  const figure = (kpa: number, label: string): React.ReactNode => (
    <p>
      <span className="fig text-share leading-none">{formatIn(kpa, unit)}</span>{' '}
      <span className="text-small">{unit.symbol}</span>
      <span className="block text-small text-soft">{label}</span>
    </p>
  )
  return (
    <div className="mt-14" data-verdict={seen.verdict}>
      <div className="mb-8 grid grid-cols-3 gap-12">
        {figure(seen.showsKpa, 'the gauge shows, below ambient')}
        {figure(seen.feelsKpa, 'the engine feels, absolute')}
        {figure(seen.atSeaLevelKpa, 'it would show at sea level')}
      </div>
      <p className={seen.verdict === 'low' || seen.verdict === 'high' ? 'wrong' : ''}>{seen.say}</p>
    </div>
  )
}

/** A small gauge whose needle moves as the one in hand may. */
function LittleGauge({ behaviour }: { behaviour: string }) {
  return (
    <svg width="58" height="40" viewBox="0 0 64 44" aria-hidden="true" className="little-gauge">
      <path d="M 8 38 A 24 24 0 0 1 56 38" className="little-gauge-arc" />
      {[0, 45, 90, 135, 180].map((a) => (
        <line key={a} x1="8" y1="38" x2="13" y2="38" transform={`rotate(${a} 32 38)`} className="little-gauge-arc" />
      ))}
      <line x1="32" y1="38" x2="32" y2="17" className={`little-needle little-needle-${behaviour}`} />
      <circle cx="32" cy="38" r="3" className="little-gauge-hub" />
    </svg>
  )
}
