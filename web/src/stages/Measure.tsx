import { useState } from 'react'
import { Link } from 'react-router'
import {
  expectedAt,
  hasMaf,
  idleChannels,
  live,
  pointsOfRound,
  roundToFill,
  SLOTS,
  vehicleAtPlace,
  type ChannelId,
  type Slot,
  type VisitFile,
} from '@uvula/core'
import { Readings } from '../parts/Readings.js'
import { TrimChart } from '../parts/TrimChart.js'
import { FileDrop } from '../parts/FileDrop.js'
import { useFormat } from '../words/format.js'
import { useWriter } from '../store/visit.js'

const ORDER: readonly Slot[] = ['key-on', 'idle', 'idle-load', 'hold-1500', 'hold-2500', 'cruise']

/** Channels typed at a slot: at key-on the sensors' zeros, elsewhere the running figures. */
function channelsAt(slot: Slot, file: VisitFile): ChannelId[] {
  const v = file.vehicle.spec
  const idle = idleChannels(v)
  if (slot === 'key-on')
    return [
      ...(hasMaf(v) ? (['maf_gs'] as const) : []),
      ...(v.metering === 'map' || v.metering === 'maf+map' ? (['map_kpa'] as const) : []),
      'baro_kpa',
      'iat_c',
      'ect_c',
      'battery_v',
    ]
  return slot === 'idle' ? [...idle.slice(0, -1), 'ect_c', 'battery_v'] : idle.filter((id) => id !== 'battery_v')
}

/** The numbers that tell faults apart, typed or dropped in as a recording. */
export function Measure({ file }: { file: VisitFile }) {
  const [slot, setSlot] = useState<Slot>('idle')
  const round = roundToFill(file)
  const { remove } = useWriter(file)
  const format = useFormat()
  const count = (s: Slot): number => live(file.readings).filter((r) => r.round === round && r.slot === s).length
  const points = pointsOfRound(file, round)
  const recordings = live(file.recordings)
  const idle = points.find((p) => p.kind === 'idle')
  const expected = hasMaf(file.vehicle.spec)
    ? expectedAt({
        vehicle: vehicleAtPlace(file),
        kind: 'idle',
        rpm: idle?.rpm,
        manifoldKpa: idle?.means.map_kpa,
        ambientC: file.visit.ambientC,
      })
    : undefined
  return (
    <div className="bench measure">
      <nav className="slots" aria-label="operating points">
        {ORDER.map((s) => (
          <button key={s} type="button" aria-pressed={s === slot} onClick={() => setSlot(s)}>
            {SLOTS[s].label}
            <span className="soft small">{count(s) ? ` ${count(s)}` : ''}</span>
          </button>
        ))}
        <Link className="act" to={`/visit/${encodeURIComponent(file.visit.id)}/live`}>
          live data
        </Link>
        <FileDrop />
        {recordings.map((r) => (
          <div key={r.id} className="recording small">
            <Link to={`/visit/${encodeURIComponent(file.visit.id)}/recording/${encodeURIComponent(r.id)}`}>
              {r.name}
            </Link>
            <p className="soft">
              {r.rows ?? 0} rows, {r.points?.length ?? 0} points
            </p>
            {r.warnings?.map((w) => (
              <p key={w}>{w}</p>
            ))}
            <button type="button" className="soft" onClick={() => remove('recordings', r.id)}>
              leave out
            </button>
          </div>
        ))}
      </nav>
      <section>
        <Readings key={slot} file={file} slot={slot} round={round} channels={channelsAt(slot, file)} />
      </section>
      <section className="measure-chart">
        <h2 className="soft small">total trim against airflow</h2>
        <TrimChart points={points} />
        {expected && idle?.means.maf_gs !== undefined && (
          <p className="small">
            At idle this engine should draw {format('massFlow', expected.lowKgS * 1e3)} to{' '}
            {format('massFlow', expected.highKgS * 1e3)} (
            {expected.from === 'pressure' ? 'from its pressure' : 'from its size, wide'}); the sensor reports{' '}
            <b>{format('massFlow', idle.means.maf_gs)}</b>.
          </p>
        )}
      </section>
    </div>
  )
}
