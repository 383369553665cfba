import { Toggle } from 'radix-ui'
import {
  live,
  stationInfo,
  surfaceInfo,
  type StationId,
  type StationState,
  type SurfaceId,
  type VisitFile,
} from '@uvula/core'
import { Ring } from '../../parts/Ring.js'

/** A surface where it is. */
export interface Place {
  readonly station: StationId
  readonly surface: SurfaceId
}

/** How far a surface came: its ring. */
function stateOf(file: VisitFile, p: Place): StationState {
  const here = live(file.steps).filter((s) => s.station === p.station && s.surface === p.surface)
  if (here.some((s) => s.againstRule)) return 'failed'
  if (here.some((s) => s.passed)) return 'sound'
  return here.length ? 'begun' : 'unseen'
}

/** Surfaces of this engine, in the order of the air. */
export function SurfaceList({
  file,
  places,
  chosen,
  onChoose,
}: {
  file: VisitFile
  places: readonly Place[]
  chosen: Place | undefined
  onChoose: (p: Place | undefined) => void
}) {
  return (
    <nav aria-label="surfaces">
      {chosen && (
        <button type="button" className="act hidden w-full narrow:flex" onClick={() => onChoose(undefined)}>
          all surfaces
        </button>
      )}
      <ul className={`narrow:grid-cols-2 ${chosen ? 'narrow:hidden' : 'narrow:grid'}`}>
        {places.map((p) => {
          const label = surfaceInfo(p.surface).label
          const on = chosen?.station === p.station && chosen.surface === p.surface
          return (
            <li key={`${p.station} ${p.surface}`} className="border-b border-b-line">
              <Toggle.Root
                className="flex min-h-tap w-full items-center gap-8 text-left leading-tight data-[state=on]:bg-face-2 data-[state=on]:shadow-[inset_6px_0_0_var(--color-ink)]"
                aria-label={`${label}, ${stationInfo(p.station).label}`}
                pressed={on}
                onPressedChange={() => onChoose(p)}
              >
                <svg width="40" height="40" aria-hidden="true" className="flex-none">
                  <Ring x={22} y={20} r={10} state={stateOf(file, p)} />
                </svg>
                <span>
                  {label}
                  {shared(places, p) && (
                    <span className="block text-small text-soft">{stationInfo(p.station).label}</span>
                  )}
                </span>
              </Toggle.Root>
            </li>
          )
        })}
      </ul>
    </nav>
  )
}

/** A surface that several parts have is told by its part. */
const shared = (places: readonly Place[], p: Place): boolean => places.filter((x) => x.surface === p.surface).length > 1
