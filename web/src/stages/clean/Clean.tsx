import { useSearchParams } from 'react-router'
import { airPathOf, live, schoolsAt, surfacesAt, type VisitFile } from '@uvula/core'
import { Schools } from '../../parts/Schools.js'
import { Begin } from './Begin.js'
import { Deposits } from './Deposits.js'
import { SurfaceList, type Place } from './SurfaceList.js'
import { Wash } from './Wash.js'

/** Nothing is chosen: all surfaces stand there. */
const ALL = 'all'

/** One surface at a time: what may touch it, the weakest first; then its wash, stage by stage, to its end. */
export function Clean({ file }: { file: VisitFile }) {
  const spec = file.vehicle.spec
  const places: readonly Place[] = airPathOf(spec).stations.flatMap(({ info }) =>
    surfacesAt(info.id, spec).map((surface) => ({ station: info.id, surface })),
  )
  const steps = live(file.steps)
  const at = (p: Place): boolean => steps.some((s) => s.station === p.station && s.surface === p.surface && !s.passed)
  // what is chosen stands in the address: whatever leads here may name a station
  const [params, setParams] = useSearchParams()
  const of = params.get('of')
  const there = places.filter((p) => p.station === of)
  const chosen =
    of === ALL
      ? undefined
      : (there.find((p) => p.surface === params.get('surface')) ?? there.find(at) ?? there.at(0) ?? places.find(at))
  const choose = (p: Place | undefined): void =>
    setParams(p ? { of: p.station, surface: p.surface } : { of: ALL }, { replace: true })
  const begun = chosen && steps.filter((s) => s.station === chosen.station && s.surface === chosen.surface)
  const open = begun?.filter((s) => !s.passed && !s.againstRule).at(-1)
  const step = open ?? begun?.at(-1)
  return (
    <div className="bench grid grid-cols-[330px_minmax(0,1fr)] gap-28 px-gap py-14 narrow:grid-cols-1 narrow:px-14 narrow:py-10">
      <SurfaceList file={file} places={places} chosen={chosen} onChoose={choose} />
      <section>
        {!chosen && (
          <>
            <p className="name">Tap a surface.</p>
            <Deposits file={file} />
            <Schools schools={schoolsAt('clean', file.vehicle.spec)} />
          </>
        )}
        {chosen && !open && (
          <Begin key={`${chosen.station} ${chosen.surface}`} file={file} place={chosen} again={step !== undefined} />
        )}
        {step && <Wash key={step.id} file={file} step={step} />}
        {chosen && chosen.station.startsWith('throttle') && <Deposits file={file} />}
      </section>
    </div>
  )
}
