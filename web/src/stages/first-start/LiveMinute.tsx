import { maybeChannel, narrowestBand, vehicleAtPlace, type ChannelId, type VisitFile } from '@uvula/core'
import { Scale } from '../../parts/Scale.js'
import { newestValues } from '../../live/liveReadings.js'
import { useLive } from '../../live/liveStore.js'
import { useFormat } from '../../words/format.js'
import { useSoundRecords } from '../../workers/heart.js'

/** What is watched in the first minute, where it is read live. */
const WATCHED: readonly ChannelId[] = ['rpm', 'map_kpa', 'maf_gs', 'ect_c', 'battery_v']

/** The first minutes as they are read live, each figure against where this engine's warm idle will have it. */
export function LiveMinute({ file }: { file: VisitFile }) {
  const live = useLive()
  const sound = useSoundRecords(file)
  const format = useFormat()
  if (live.state?.phase !== 'live') return null
  const values = newestValues(live.samples)
  const place = {
    vehicle: vehicleAtPlace(file),
    kind: 'idle' as const,
    rpm: values.rpm ?? 0,
    ambientC: file.visit.ambientC,
  }
  const rows = WATCHED.flatMap((id) => {
    const value = values[id]
    return value === undefined ? [] : [{ id, value, band: narrowestBand(id, place, sound) }]
  })
  return (
    <section aria-label="read live" className="my-8">
      <h2 className="text-small text-soft">
        read live{live.state.standIn ? ', a simulated car' : ''}; the bands are those of the warm idle
      </h2>
      {rows.map(({ id, value, band }) => {
        const { label, quantity } = maybeChannel(id)!
        return (
          <div key={id} className="grid grid-cols-[130px_120px_minmax(0,1fr)] items-center gap-10">
            <span className="text-small">{label}</span>
            <span className="fig text-right text-figure">{format(quantity, value)}</span>
            {band ? <Scale band={band} value={value} label={`${label} against its band`} /> : <span />}
          </div>
        )
      })}
    </section>
  )
}
