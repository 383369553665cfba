import {
  CHANNELS,
  maybeChannel,
  pointsCsv,
  type ChannelId,
  type LeftOut,
  type OperatingPoint,
  type RecordingRecord,
} from '@uvula/core'
import { saveFile } from '../parts/saveFile.js'
import { sayClock, useFormat } from '../words/format.js'
import type { Trace } from './traceOption.js'
import { AS_CHOSEN, HOW_TO_LOOK, KINDS, NOTHING_HELD, REASONS } from './words.js'

/** The figures beside the charts: of the moment under the cursor, of the open stretch, of what was left out, or of all that counts. */
export function Figures({
  recording,
  trace,
  channels,
  at,
  open,
  why,
  onOpen,
  onLeaveOut,
  onCount,
  onAsFound,
}: {
  recording: RecordingRecord
  trace: Trace
  channels: readonly ChannelId[]
  /** Row under the cursor. */
  at: number | undefined
  /** Index of the open stretch. */
  open: number | undefined
  why: LeftOut | undefined
  onOpen: (i: number) => void
  onLeaveOut: (i: number) => void
  /** Counts what is shown as a stretch; left out where the whole is shown. */
  onCount: (() => void) | undefined
  /** Takes the stretches that were found; left out where they are those. */
  onAsFound: (() => void) | undefined
}) {
  const shown = open === undefined ? undefined : recording.points[open]
  return (
    <aside
      className="px-14 py-12 border-l-2 border-l-ink overflow-auto [grid-area:side] phone:border-t-2 phone:border-l-0 phone:border-t-ink phone:max-h-[28vh]"
      aria-label="figures"
    >
      {at !== undefined ? (
        <>
          <h2 className="fig rec-figure text-clock leading-none">{sayClock(trace.time_s[at] ?? 0)}</h2>
          <Values values={Object.fromEntries(channels.map((id) => [id, trace[id][at] ?? undefined]))} />
        </>
      ) : shown ? (
        <OfStretch stretch={shown} onLeaveOut={() => onLeaveOut(open!)} />
      ) : why ? (
        <>
          <h2 className="name">left out: {REASONS[why.reason][0]}</h2>
          <p>
            {sayClock(why.startS)} to {sayClock(why.endS)}
          </p>
          <p>{REASONS[why.reason][1]}</p>
        </>
      ) : (
        <OfAll recording={recording} trace={trace} onOpen={onOpen} onCount={onCount} onAsFound={onAsFound} />
      )}
    </aside>
  )
}

function OfStretch({ stretch, onLeaveOut }: { stretch: OperatingPoint; onLeaveOut: () => void }) {
  return (
    <>
      <h2 className="name">{KINDS[stretch.kind]}</h2>
      <p>
        {sayClock(stretch.startS)} to {sayClock(stretch.endS)}, {stretch.n} rows
      </p>
      <button type="button" className="act mx-0 mt-8 mb-12" onClick={onLeaveOut}>
        leave it out
      </button>
      <Values values={stretch.means} sds={stretch.sds} />
    </>
  )
}

function OfAll({
  recording,
  trace,
  onOpen,
  onCount,
  onAsFound,
}: {
  recording: RecordingRecord
  trace: Trace
  onOpen: (i: number) => void
  onCount: (() => void) | undefined
  onAsFound: (() => void) | undefined
}) {
  const format = useFormat()
  const { points } = recording
  const asTable = (): void =>
    saveFile(
      new Blob([pointsCsv(points)], { type: 'text/csv' }),
      `${recording.name.replace(/\.[a-z]+$/i, '')}-points.csv`,
    )
  return (
    <>
      <h2 className="name">
        {points.length ? `${points.length} stretch${points.length === 1 ? '' : 'es'} that count` : 'No stretch counts'}
      </h2>
      {!points.length && <p>{NOTHING_HELD}</p>}
      <ol>
        {points.map((p, i) => (
          <li key={p.startS}>
            <button
              className="border-b border-b-line w-full grid grid-cols-[1fr_60px_84px] items-center"
              type="button"
              onClick={() => onOpen(i)}
            >
              <span>{KINDS[p.kind]}</span>
              <span className="fig text-name text-right">{Math.round(p.rpm)}</span>
              <span className="fig text-name text-right">
                {p.means.trim1_pct === undefined ? '' : format('ratio', p.means.trim1_pct)}
              </span>
            </button>
          </li>
        ))}
      </ol>
      {points.length > 0 && <p className="text-soft text-small">speed and total trim of bank 1</p>}
      <div className="mx-0 my-10 gap-8 flex flex-wrap">
        {onCount && (
          <button type="button" className="act" onClick={onCount}>
            count what is shown
          </button>
        )}
        {onAsFound && (
          <button type="button" className="act" onClick={onAsFound}>
            as found again
          </button>
        )}
        {points.length > 0 && (
          <button type="button" className="act" onClick={asTable}>
            table as CSV
          </button>
        )}
      </div>
      {recording.warnings.map((w) => (
        <p key={w} className="wrong text-small">
          {w}
        </p>
      ))}
      {trace.maf_gs && (
        <p className="text-soft text-small">
          Dashed: what this engine should draw at its speed
          {trace.map_kpa ? ' and pressure' : '; wide without its pressure'}.
        </p>
      )}
      {recording.stretches && <p className="text-soft text-small">{AS_CHOSEN}</p>}
      <p className="text-soft text-small">{HOW_TO_LOOK}</p>
    </>
  )
}

function Values({
  values,
  sds,
}: {
  values: Readonly<Record<string, number | undefined>>
  sds?: Readonly<Record<string, number | undefined>>
}) {
  const format = useFormat()
  const rows = [...CHANNELS.map((c) => c.id), 'trim1_pct', 'trim2_pct'].filter((id) => values[id] !== undefined)
  return (
    <dl className="pt-6 gap-y-2 gap-x-14 grid grid-cols-2">
      {rows.map((id) => {
        const channel = maybeChannel(id)
        const quantity = channel?.quantity ?? 'ratio'
        return (
          <div key={id}>
            <dt className="text-soft text-small">{channel?.label ?? `total trim ${id.at(4)}`}</dt>
            <dd className="fig text-name leading-tight">
              {id === 'fuel_status' ? (values[id]! >= 0.5 ? 'closed' : 'open') : format(quantity, values[id]!)}
              {sds?.[id] ? <small className="text-label"> ±{sds[id].toFixed(1)}</small> : null}
            </dd>
          </div>
        )
      })}
    </dl>
  )
}
