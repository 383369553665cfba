import { roadTestOf, type RoadLeg, type VisitFile } from '@uvula/core'
import { Stop, stopSeen } from '../../parts/Stop.js'

/** What to read standing and to drive after this work, and what the recording of it says. */
export function RoadTest({ file }: { file: VisitFile }) {
  const legs = roadTestOf(file)
  if (!legs.length) return null
  const drivable = stopSeen(file, 'road-test')
  const driven = legs.filter((l) => l.driven)
  // what is driven comes once its STOP is seen to; what was recorded stands
  const shown = driven.filter((l) => drivable || l.seen)
  const next = [...legs.filter((l) => !l.driven), ...shown].find((l) => !l.seen)
  return (
    <section aria-label="road test" className="mt-16">
      <h2 className="text-soft text-small">
        road test for this work; its recording, dropped here, is read stretch by stretch
      </h2>
      <Legs legs={legs.filter((l) => !l.driven)} next={next} />
      <Stop file={file} id="road-test" />
      {shown.length < driven.length && (
        <p className="text-small text-soft">what is to be driven stands here once this is seen to</p>
      )}
      <Legs legs={shown} next={next} />
    </section>
  )
}

function Legs({ legs, next }: { legs: readonly RoadLeg[]; next?: RoadLeg }) {
  return (
    <ol>
      {legs.map((l) => (
        <li
          key={l.id}
          data-leg={l.id}
          data-seen={l.seen !== undefined}
          className={`border-b border-b-line py-6 leading-tight ${l === next ? 'border-l-6 border-l-ink pl-10' : ''}`}
        >
          <span className={l.seen ? 'text-soft' : 'font-semibold'}>{l.say}</span>
          <span className="block text-small">
            {l.seen ? (
              <>
                {l.seen.said} <span className="text-soft">{l.seen.seconds.toFixed(0)} s of it</span>
              </>
            ) : (
              <span className="text-soft">{l.why}</span>
            )}
          </span>
        </li>
      ))}
    </ol>
  )
}
