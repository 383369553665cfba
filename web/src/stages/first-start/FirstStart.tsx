import {
  CLEARING_WIPES,
  feedsOf,
  mayStart,
  POOLS_LOOKED,
  POOLS_OF_BOTH,
  poolsUnlooked,
  restartLocked,
  TURNED_BY_HAND,
  type VisitFile,
  hasController,
} from '@uvula/core'
import { AfterFeed } from './AfterFeed.js'
import { FirstMinutes } from './FirstMinutes.js'
import { Codes } from '../../parts/Codes.js'
import { CODES_PART, usePartInView } from '../../parts/partInView.js'
import { useNow } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { AfterWork, Readiness } from './AfterWork.js'
import { LiveMinute } from './LiveMinute.js'

/** What the first minutes bring, what locks the starter, and the codes that are ours. */
export function FirstStart({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  usePartInView()
  const locked = restartLocked(file)
  const gate = mayStart(file, useNow(1000))
  const pools = poolsUnlooked(file)
  const both = feedsOf(file).some((r) => r.feed?.together)
  return (
    <div className="bench px-gap py-14 gap-28 grid grid-cols-[minmax(0,1fr)_minmax(300px,1.05fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section>
        {locked ? (
          <div
            className="caution stop px-10 py-6 mx-0 my-6 border-4 border-ink gap-12 flex items-center justify-between narrow:flex-col narrow:items-stretch"
            role="alert"
          >
            <p>
              <b>STOP: do not crank.</b> It stalled while liquid was fed, or more of it stands there than one cylinder
              bears: cranked, it bends a rod. Fuel and ignition off, plugs out (injectors or glow plugs on a diesel),
              turn by hand, then spin, holes screened, stand clear. Waiting does not empty a cylinder.{' '}
              <span className="text-soft">
                If it has been cranked: stop, and look for a bent rod by compression before anything else.
              </span>
            </p>
            <button
              type="button"
              className="act strong"
              onClick={() =>
                write('ticks', `${file.visit.id}:tick:${newId()}`, { visitId: file.visit.id, caution: TURNED_BY_HAND })
              }
            >
              plugs out, turned by hand
            </button>
          </div>
        ) : gate.ok ? (
          <p className="name">May be started: nothing is open.</p>
        ) : (
          <div className="wrong" role="alert">
            <p className="name">Not yet</p>
            {gate.refusals.map((r) => (
              <p key={r.message}>{r.message}</p>
            ))}
          </div>
        )}
        {!locked && pools.length > 0 && (
          <div className="caution stop mx-0 my-6 flex items-center justify-between gap-12 border-4 border-ink px-10 py-6 narrow:flex-col narrow:items-stretch">
            <p className="text-small">
              <b>STOP</b> Liquid does not compress: look into plenum and runners with a light, soak up or pour off what
              stands there; where in doubt, plugs out.{' '}
              <span className="text-soft">If it has been cranked into one: stop, plugs out, turn it by hand.</span>
            </p>
            <span className="grid gap-6">
              {pools.map((r) => (
                <button
                  key={r.rule}
                  type="button"
                  className="act strong"
                  onClick={() =>
                    write('ticks', `${file.visit.id}:tick:${newId()}`, {
                      visitId: file.visit.id,
                      caution: r.rule === 'pools-unlooked' ? POOLS_LOOKED : POOLS_OF_BOTH[1],
                    })
                  }
                >
                  looked{both ? (r.rule === 'pools-unlooked' ? ', first inlet' : ', second inlet') : ''}: no pool stands
                </button>
              ))}
            </span>
          </div>
        )}
        <FirstMinutes vehicle={file.vehicle.spec} />
        <LiveMinute file={file} />
        <AfterFeed file={file} />
        <p className="text-soft text-small">A slow, uneven or stopped starter is liquid: stop.</p>
      </section>
      <section>
        <AfterWork file={file} />
        {hasController(file.vehicle.spec) && (
          <>
            <h2 id={CODES_PART} className="text-soft text-small">
              codes: read, ours or not, cleared, read again
            </h2>
            <Codes file={file} />
            <p className="text-small">{CLEARING_WIPES}</p>
            <Readiness file={file} />
          </>
        )}
      </section>
    </div>
  )
}
