import { roadTestOf, type VisitFile } from '@uvula/core'
import { Stop, stopSeen } from '../../parts/Stop.js'

/** What to drive after this work, and what the recording of it says. */
export function RoadTest({ file }: { file: VisitFile }) {
  const legs = roadTestOf(file)
  const drivable = stopSeen(file, 'road-test')
  // what is driven comes once its STOP is seen to; what was recorded stands
  const shown = legs.filter((l) => drivable || !l.driven || l.seen)
  if (!legs.length) return null
  const next = shown.find((l) => !l.seen)
  return (
    <section aria-label="road test" className="mt-16">
      <h2 className="text-soft text-small">
        road test for this work; its recording, dropped here, is read stretch by stretch
      </h2>
      {legs.some((l) => l.driven) && <Stop file={file} id="road-test" />}
      <ol>
        {shown.map((l) => (
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
    </section>
  )
}
