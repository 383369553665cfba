import { ChevronLeft } from 'lucide-react'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import {
  CHANNELS,
  expectedAlong,
  leftOut,
  live,
  maybeChannel,
  vehicleAtPlace,
  pointsCsv,
  type ChannelId,
  type ChosenStretch,
  type LeftOut,
  type OperatingPoint,
  type RecordingRecord,
  type VisitFile,
} from '@uvula/core'
import { TraceStack } from './TraceStack.js'
import type { Trace } from './traceOption.js'
import { Delivery } from '../parts/Delivery.js'
import { StretchLine } from './StretchLine.js'
import { KINDS, REASONS } from './words.js'
import { saveFile } from '../parts/saveFile.js'
import { Pick } from '../kit/Pick.js'
import { getJson } from '../store/api.js'
import { useVisitFile, useWriter } from '../store/visit.js'
import { sayClock, useFormat } from '../words/format.js'
import { Failing, Waiting } from '../parts/States.js'

/** What is drawn when it is there, in the order in which it is looked at. */
const DRAWN: readonly ChannelId[] = [
  'rpm',
  'maf_gs',
  'map_kpa',
  'stft1_pct',
  'ltft1_pct',
  'stft2_pct',
  'ltft2_pct',
  'throttle_pct',
  'idle_valve_pct',
  'load_pct',
  'speed_kph',
  'charge_kpa',
  'egr_pct',
  'fuel_status',
]
/** Charts that fit at once; more are a tap away. */
const AT_ONCE = 6

/** A whole recording at a glance: its channels under one time, the stretches that count, and their figures. */
export function RecordingPage() {
  const { id = '', rec = '' } = useParams()
  const { file, error } = useVisitFile(id)
  const recording = file && live(file.recordings).find((r) => r.id === rec)
  const { data: trace, error: traceError } = useTrace(rec)
  if (error && !file) return <Failing error={error} />
  if (traceError) return <Failing error={traceError} />
  if (!file || !trace) return <Waiting what="the recording" />
  if (!recording) return <Failing error={new Error('This recording is not in the visit any more.')} />
  return <Opened key={rec} file={file} recording={recording} trace={trace} />
}

/** A recording's columns for drawing; `none` asks for nothing. */
const useTrace = (rec: string | undefined) =>
  useQuery({
    queryKey: ['trace', rec],
    queryFn: () =>
      getJson<Trace>(`/api/recordings/${encodeURIComponent(rec!)}/trace?channels=${CHANNELS.map((c) => c.id).join()}`),
    staleTime: Infinity,
    enabled: rec !== undefined,
  })

/** Another recording's values at this one's times, the nearest row of each. */
function atTimesOf(trace: Trace, other: Trace): Trace {
  const [times, theirs] = [trace.time_s as number[], other.time_s as number[]]
  let k = 0
  const nearest = times.map((t) => {
    while (k + 1 < theirs.length && Math.abs(theirs[k + 1] - t) <= Math.abs(theirs[k] - t)) k++
    return t > theirs[theirs.length - 1] ? -1 : k
  })
  return Object.fromEntries(
    Object.entries(other)
      .filter(([id]) => id !== 'time_s')
      .map(([id, xs]) => [id, nearest.map((i) => (i < 0 ? null : xs[i]))]),
  )
}

function Opened({ file, recording, trace }: { file: VisitFile; recording: RecordingRecord; trace: Trace }) {
  const [at, setAt] = useState<number>()
  const [open, setOpen] = useState<number>()
  const [all, setAll] = useState(false)
  const [range, setRange] = useState<readonly [number, number]>()
  const [whole, setWhole] = useState(0)
  const others = live(file.recordings).filter((r) => r.id !== recording.id)
  const [beside, setBeside] = useState<string>()
  const { data: besideTrace } = useTrace(beside)
  const other = useMemo(() => besideTrace && atTimesOf(trace, besideTrace), [trace, besideTrace])
  const format = useFormat()
  const has = DRAWN.filter((id) => trace[id])
  const channels = all ? has : has.slice(0, AT_ONCE)
  const { points } = recording
  const { write } = useWriter(file)
  /** Keeps another choice of stretches; what is shown follows at once, the figures with the server's answer. */
  const choose = (chosen: readonly ChosenStretch[] | null, shownPoints: readonly OperatingPoint[]): void => {
    const { visitId, round, name } = recording
    write('recordings', recording.id, { visitId, round, name, stretches: chosen }, { local: { points: shownPoints } })
  }
  const asChosen = (list: readonly OperatingPoint[]): ChosenStretch[] =>
    list.map(({ startS, endS, kind }) => ({ startS, endS, kind }))
  const move = (i: number, startS: number, endS: number): void => {
    const next = points.map((p, k) => (k === i ? { ...p, startS, endS } : p))
    choose(asChosen(next), next)
  }
  const leaveOut = (i: number): void => {
    const next = points.filter((_, k) => k !== i)
    setOpen(undefined)
    choose(asChosen(next), next)
  }
  const count = (startS: number, endS: number): void =>
    choose(
      [...asChosen(points), { startS, endS }].sort((a, b) => a.startS - b.startS),
      points,
    )
  const asTable = (): void =>
    saveFile(
      new Blob([pointsCsv(points)], { type: 'text/csv' }),
      `${recording.name.replace(/\.[a-z]+$/i, '')}-points.csv`,
    )
  const stretches = useMemo(
    () => points.map((p, i) => ({ startS: p.startS, endS: p.endS, strong: i === open })),
    [points, open],
  )
  const end = trace.time_s.at(-1) ?? 0
  const expected = useMemo(() => {
    const { low, high } = expectedAlong(trace, vehicleAtPlace(file), file.visit.ambientC)
    return trace.maf_gs ? { maf_gs: [low, high] } : {}
  }, [file, trace])
  const ways = useMemo(() => leftOut(drawnRecording(trace), points), [trace, points])
  const [why, setWhy] = useState<LeftOut>()
  const [from, to] = range ?? [0, end]
  const shown = open === undefined ? undefined : points[open]
  return (
    <div className="h-full grid grid-cols-[minmax(0,1fr)_300px] grid-rows-[54px_minmax(0,1fr)] [grid-template-areas:'head_head'_'charts_side'] phone:grid-cols-1 phone:grid-rows-[auto_minmax(0,1fr)_auto] phone:[grid-template-areas:'head'_'charts'_'side']">
      <header className="visit-head pr-gap pl-8 py-0 border-b-2 border-b-ink gap-12 [grid-area:head] flex items-center phone:flex-wrap narrow:pr-12 narrow:pl-0 narrow:py-0 narrow:gap-4 narrow:flex-wrap">
        <Link
          to={`/visit/${encodeURIComponent(file.visit.id)}/measure`}
          className="w-tap h-tap grid place-items-center"
          aria-label="back to the visit"
        >
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="overflow-hidden flex-1 min-w-0 text-lead whitespace-nowrap text-ellipsis narrow:basis-[60%]">
          <b>{file.vehicle.spec.name}</b>{' '}
          <span className="text-body text-soft narrow:hidden">
            {recording.name}, {recording.rows} rows, {sayClock(end)}
          </span>
        </h1>
        <Delivery />
        {others.length > 0 && (
          <Pick
            label="laid under it"
            className="max-w-230"
            value={beside ?? 'none'}
            options={[
              { value: 'none', label: 'nothing laid under it' },
              ...others.map((r) => ({ value: r.id, label: r.name })),
            ]}
            onChange={(id) => setBeside(id === 'none' ? undefined : id)}
          />
        )}
        <a
          className="act whitespace-nowrap"
          href={`/api/recordings/${encodeURIComponent(recording.id)}/canonical`}
          download
        >
          as clean CSV
        </a>
        <a
          className="act whitespace-nowrap"
          href={`/api/recordings/${encodeURIComponent(recording.id)}/original`}
          download
        >
          original
        </a>
      </header>
      <main className="px-gap pt-0 pb-10 overflow-auto [grid-area:charts] min-h-0 flex flex-col phone:px-10 phone:pt-0 phone:pb-10">
        <StretchLine
          points={points}
          ways={ways}
          open={open}
          why={why}
          range={[from, to]}
          onOpen={(i) => {
            setWhy(undefined)
            setOpen(i)
          }}
          onWhy={(w) => {
            setOpen(undefined)
            setWhy(w)
          }}
          onMove={move}
          onWhole={
            range && to - from < 0.98 * end
              ? () => {
                  setRange(undefined)
                  setWhole(whole + 1)
                }
              : undefined
          }
        />
        <TraceStack
          key={whole}
          trace={trace}
          channels={channels}
          stretches={stretches}
          expected={expected}
          other={other}
          at={at}
          onCursor={setAt}
          onRange={setRange}
        />
        {has.length > AT_ONCE && (
          <button type="button" className="act mt-10 self-start" onClick={() => setAll(!all)}>
            {all ? 'fewer channels' : `${has.length - AT_ONCE} more channels`}
          </button>
        )}
      </main>
      <aside
        className="px-14 py-12 border-l-2 border-l-ink overflow-auto [grid-area:side] phone:border-t-2 phone:border-l-0 phone:border-t-ink phone:max-h-[36vh]"
        aria-label="figures"
      >
        {at !== undefined ? (
          <>
            <h2 className="fig rec-figure text-clock leading-none">{sayClock(trace.time_s[at] ?? 0)}</h2>
            <Values values={Object.fromEntries(has.map((id) => [id, trace[id][at] ?? undefined]))} />
          </>
        ) : shown ? (
          <>
            <h2 className="name">{KINDS[shown.kind]}</h2>
            <p>
              {sayClock(shown.startS)} to {sayClock(shown.endS)}, {shown.n} rows
            </p>
            <button type="button" className="act mx-0 mt-8 mb-12" onClick={() => leaveOut(open!)}>
              leave it out
            </button>
            <Values values={shown.means} sds={shown.sds} />
          </>
        ) : why ? (
          <>
            <h2 className="name">left out: {REASONS[why.reason][0]}</h2>
            <p>
              {sayClock(why.startS)} to {sayClock(why.endS)}
            </p>
            <p>{REASONS[why.reason][1]}</p>
          </>
        ) : (
          <>
            <h2 className="name">
              {points.length
                ? `${points.length} stretch${points.length === 1 ? '' : 'es'} that count`
                : 'No stretch counts'}
            </h2>
            {!points.length && <p>Nothing was held steady, warm and in closed loop for eight seconds.</p>}
            <ol>
              {points.map((p, i) => (
                <li key={p.startS}>
                  <button
                    className="border-b border-b-line w-full grid grid-cols-[1fr_60px_84px] items-center"
                    type="button"
                    onClick={() => setOpen(i)}
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
              {range && to - from < 0.98 * end && (
                <button type="button" className="act" onClick={() => count(from, to)}>
                  count what is shown
                </button>
              )}
              {recording.stretches && (
                <button type="button" className="act" onClick={() => choose(null, points)}>
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
            {recording.stretches && <p className="text-soft text-small">These stretches were chosen by hand.</p>}
            <p className="text-soft text-small">
              Drag over a chart to look closer, double tap for the whole. An open stretch has ends to pull.
            </p>
          </>
        )}
      </aside>
    </div>
  )
}

/** The recording as it is drawn, for what is judged from it here. */
function drawnRecording(trace: Trace): Parameters<typeof leftOut>[0] {
  const columns = Object.fromEntries(
    Object.entries(trace).map(([id, xs]) => [id, Float64Array.from(xs, (x) => x ?? NaN)]),
  )
  return { rows: trace.time_s.length, columns, warnings: [] }
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
