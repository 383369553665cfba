import {
  airPathOf,
  CLAMPS,
  MATERIALS,
  maybeStation,
  nipplesOf,
  stationInfo,
  type AsFound,
  type StationDetails,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Pick } from '../../kit/Pick.js'
import { Tick } from '../../kit/Tick.js'
import { ownFields, useWriter } from '../../store/visit.js'

/** The part itself, kept with the car: what it is made of, how old, how it is held; and where its hose hung when the car came. */
export function Part({ file, id }: { file: VisitFile; id: StationId }) {
  const { write } = useWriter(file)
  const { vehicle, visit } = file
  const details: StationDetails = vehicle.spec.stations?.[id] ?? {}
  const keep = (part: Partial<StationDetails>): void => {
    const next = Object.fromEntries(
      Object.entries({ ...details, ...part }).filter(([, x]) => x !== undefined && x !== ''),
    )
    write('vehicles', vehicle.id, {
      ...ownFields(vehicle),
      spec: { ...vehicle.spec, stations: { ...vehicle.spec.stations, [id]: next } },
    })
  }
  const path = airPathOf(vehicle.spec)
  const joins = maybeStation(path, id)?.lane === 'branch' ? maybeStation(path, id)?.joins : undefined
  const forbidden = vehicle.spec.doNotClean?.includes(id) === true
  const found = visit.asFound?.[id] ?? joins
  const places: readonly AsFound[] = ['off', 'capped', ...nipplesOf(path, id)]
  return (
    <section className="mt-12 grid gap-8" aria-label="the part">
      {joins && (
        <div>
          <p className="text-small text-soft">its hose was found on</p>
          <Pick
            label="its hose was found on"
            value={found as string}
            options={places.map((p) => ({
              value: p as string,
              label:
                p === 'off' || p === 'capped' ? p : `${stationInfo(p).label}${p === joins ? ', where it belongs' : ''}`,
            }))}
            onChange={(x) => {
              const { [id]: _, ...others } = visit.asFound ?? {}
              write('visits', visit.id, {
                ...ownFields(visit),
                asFound: x === joins ? others : { ...others, [id]: x as AsFound },
              })
            }}
          />
        </div>
      )}
      <p className="-mb-6 text-small text-soft">the part: made of, held by</p>
      <Choose
        label="made of"
        look="line"
        className="flex flex-wrap gap-x-14"
        value={details.material}
        choices={MATERIALS.map((m) => ({ value: m, label: m }))}
        onChange={(material) => keep({ material })}
      />
      <Choose
        label="clamp"
        look="line"
        className="flex flex-wrap gap-x-14"
        value={details.clamp}
        choices={CLAMPS.map((c) => ({ value: c, label: c === 'none' ? 'no clamp' : `${c} clamp` }))}
        onChange={(clamp) => keep({ clamp })}
      />
      <div className="grid grid-cols-3 gap-8 narrow:grid-cols-1">
        <label className="block">
          <span className="block text-small text-soft">fitted on</span>
          <input
            type="date"
            className="field"
            value={details.fittedOn ?? ''}
            onChange={(e) => keep({ fittedOn: e.target.value || undefined })}
          />
        </label>
        <label className="block">
          <span className="block text-small text-soft">serviced on</span>
          <input
            type="date"
            className="field"
            value={details.servicedOn ?? ''}
            onChange={(e) => keep({ servicedOn: e.target.value || undefined })}
          />
        </label>
        <label className="block">
          <span className="block text-small text-soft">hose, inside, mm</span>
          <input
            className="field fig"
            inputMode="decimal"
            defaultValue={details.hoseMm ?? ''}
            onBlur={(e) => {
              const mm = Number(e.target.value.trim().replace(',', '.'))
              if (e.target.value.trim() === '') keep({ hoseMm: undefined })
              else if (mm >= 1 && mm <= 120) keep({ hoseMm: mm })
            }}
          />
        </label>
      </div>
      <Tick
        checked={forbidden}
        onChange={(on) =>
          write('vehicles', vehicle.id, {
            ...ownFields(vehicle),
            spec: {
              ...vehicle.spec,
              doNotClean: [...(vehicle.spec.doNotClean ?? []).filter((x) => x !== id), ...(on ? [id] : [])],
            },
          })
        }
      >
        its label says: do not clean
      </Tick>
    </section>
  )
}
