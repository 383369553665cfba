import { useState } from 'react'
import { Link } from 'react-router'
import {
  diesIn,
  hasController,
  hasTrims,
  live,
  narrowestBand,
  pointsOfRound,
  remediesOf,
  roundToFill,
  slotChannels,
  SLOTS,
  vehicleAtPlace,
  type Slot,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Readings } from '../../parts/Readings.js'
import { TrimChart } from '../../charts/TrimChart.js'
import { FileDrop } from '../../visit/FileDrop.js'
import { useFormat } from '../../words/format.js'
import { useWriter } from '../../store/visit.js'
import { useSoundRecords } from '../../workers/heart.js'

const ORDER: readonly Slot[] = ['key-on', 'idle', 'idle-load', 'hold-1500', 'hold-2500', 'cruise', 'pull']

/** The numbers that tell faults apart, typed or dropped in as a recording. */
export function Figures({ file }: { file: VisitFile }) {
  const [slot, setSlot] = useState<Slot>('idle')
  const round = roundToFill(file)
  const { remove } = useWriter(file)
  const format = useFormat()
  const count = (s: Slot): number => live(file.readings).filter((r) => r.round === round && r.slot === s).length
  const points = pointsOfRound(file, round)
  const dies = diesIn(file, round)
  const recordings = live(file.recordings)
  const idle = points.find((p) => p.kind === 'idle')
  const sound = useSoundRecords(file)
  const place = {
    vehicle: vehicleAtPlace(file),
    kind: 'idle' as const,
    rpm: idle?.rpm,
    manifoldKpa: idle?.means.map_kpa,
    ambientC: file.visit.ambientC,
  }
  const expected = narrowestBand('maf_gs', place, sound)
  return (
    <div className="grid grid-cols-[170px_minmax(0,1fr)_320px] gap-gap py-8 narrow:grid-cols-1">
      <nav
        className="flex flex-col items-stretch narrow:gap-y-0 narrow:gap-x-8 narrow:[flex-flow:row_wrap]"
        aria-label="operating points"
      >
        <Choose
          label="operating point"
          look="edge"
          className="flex flex-col items-stretch narrow:flex-row narrow:flex-wrap narrow:gap-x-8 narrow:pr-14"
          value={slot}
          choices={ORDER.map((s) => ({
            value: s,
            name: SLOTS[s].label,
            label: (
              <>
                {SLOTS[s].label}
                <span className="text-small text-soft">{count(s) ? ` ${count(s)}` : ''}</span>
              </>
            ),
          }))}
          onChange={setSlot}
        />
        <div className="mt-8 flex flex-col gap-8 narrow:flex-row">
          {hasController(file.vehicle.spec) && (
            <Link className="act justify-center" to={`/visit/${encodeURIComponent(file.visit.id)}/live`}>
              live data
            </Link>
          )}
          <FileDrop />
        </div>
        {recordings.map((r) => (
          <div key={r.id} className="recording px-0 py-6 border-t border-t-line wrap-anywhere text-small">
            <Link
              className="inline-flex min-h-tap items-center"
              to={`/visit/${encodeURIComponent(file.visit.id)}/recording/${encodeURIComponent(r.id)}`}
            >
              {r.name}
            </Link>
            <p className="text-soft">
              {r.rows ?? 0} rows, {r.points?.length ?? 0} {r.points?.length === 1 ? 'point' : 'points'}
            </p>
            {r.warnings?.map((w) => (
              <p key={w}>{w}</p>
            ))}
            <button type="button" className="text-soft" onClick={() => remove('recordings', r.id)}>
              leave out
            </button>
          </div>
        ))}
      </nav>
      <section>
        {round > 0 && (
          <p className="mb-4 border-l-6 border-l-ink pl-10 text-small">
            Round {round}, after: {remediesOf(file).at(-1)?.words}.
          </p>
        )}
        <Readings key={slot} file={file} slot={slot} round={round} channels={slotChannels(slot, file.vehicle.spec)} />
      </section>
      <section>
        {hasTrims(file.vehicle.spec) && dies !== 'no-run' && (
          <>
            <h2 className="text-soft text-small">total trim</h2>
            <TrimChart points={points} where={dies && 'at 1500 and at 2500, held with the pedal'} />
          </>
        )}
        {expected && idle?.means.maf_gs !== undefined && (
          <p className="text-small">
            At idle this engine should draw {format('massFlow', expected.low)} to {format('massFlow', expected.high)} (
            {expected.from}); the sensor reports <b>{format('massFlow', idle.means.maf_gs)}</b>.
          </p>
        )}
      </section>
    </div>
  )
}
