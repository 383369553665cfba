import {
  maybeChannel,
  preconditionReading,
  type ChannelId,
  type Precondition,
  type Procedure,
  type VisitFile,
} from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { sayTime, useFormat } from '../../words/format.js'
import { shopNow } from '../../store/clock.js'

/** What must hold before a procedure is armed: measured where a reading tells it, else seen to by hand. */
export function Conditions({
  file,
  procedure,
  measured,
  failed,
  ticked,
  liveNow,
  onTick,
}: {
  file: VisitFile
  procedure: Procedure
  measured: readonly string[]
  /** A live figure says that these do not hold. */
  failed: readonly string[]
  ticked: readonly string[]
  liveNow: Readonly<Partial<Record<ChannelId, number>>>
  onTick: (ids: readonly string[]) => void
}) {
  return (
    <>
      <h2 className="text-soft text-small">before it is armed; measured or seen to</h2>
      <ul>
        {procedure.preconditions.map((c) => (
          <li
            className="border-b border-b-line gap-8 grid grid-cols-[1fr_auto_auto] items-center min-h-52 leading-tight"
            key={c.id}
          >
            <span>
              {c.stop && <b>STOP </b>}
              {c.label}
              <ReadSaid file={file} precondition={c} now={c.reads && liveNow[c.reads.channel]} />
            </span>
            {measured.includes(c.id) ? (
              <b className="text-small">measured</b>
            ) : (
              <Tick
                label={`${c.label}: seen to`}
                checked={ticked.includes(c.id) && !failed.includes(c.id)}
                disabled={failed.includes(c.id)}
                onChange={(on) => onTick(on ? [...ticked, c.id] : ticked.filter((x) => x !== c.id))}
              >
                seen to
              </Tick>
            )}
          </li>
        ))}
      </ul>
    </>
  )
}

/** The reading that tells a precondition, and its age where it is too old to stand for a tick. */
function ReadSaid({ file, precondition, now }: { file: VisitFile; precondition: Precondition; now?: number }) {
  const format = useFormat()
  const { reads } = precondition
  if (!reads) return null
  const { quantity } = maybeChannel(reads.channel)!
  if (now !== undefined)
    return (
      <span className="block text-small text-soft">
        {format(quantity, now)} live{now >= reads.min && now <= reads.max ? '' : ', outside'}
      </span>
    )
  const r = preconditionReading(file, precondition, shopNow())
  if (!r) return null
  return (
    <span className="block text-small text-soft">
      {format(quantity, r.reading.value)} at {sayTime(r.reading.at)}
      {r.inside ? (r.fresh ? '' : ', too long ago to stand for it') : ', outside'}
    </span>
  )
}
