import { ChevronLeft } from 'lucide-react'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useRef, useState } from 'react'
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
import { EDGE_PX, TraceStack, type Trace } from '../parts/TraceStack.js'
import { Delivery } from '../parts/Delivery.js'
import { StretchEnds } from '../parts/StretchEnds.js'
import { chartPicture, saveFile } from '../parts/chartPicture.js'
import { getJson } from '../store/api.js'
import { useVisitFile, useWriter } from '../store/visit.js'
import { sayClock, useFormat } from '../words/format.js'
import { Failing, Waiting } from './States.js'
import './visit.css'
import './recording.css'

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

const KINDS: Readonly<Record<OperatingPoint['kind'], string>> = {
  'engine-off': 'engine off',
  'key-on': 'key on',
  idle: 'idle',
  'idle-load': 'idle, loaded',
  hold: 'held',
  cruise: 'cruise',
  pull: 'pull',
  snap: 'snap',
  deceleration: 'deceleration',
  cold: 'cold',
}

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
  const charts = useRef<HTMLElement>(null)
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
  const across = (t: number): number => (100 * (t - from)) / Math.max(1e-6, to - from)
  const shown = open === undefined ? undefined : points[open]
  const asPicture = async (): Promise<void> => {
    const title = `${file.vehicle.spec.name}, ${recording.name}`
    const blob = await chartPicture(charts.current!.querySelector<HTMLElement>('.trace-stack')!, title)
    if (blob) saveFile(blob, `${recording.name.replace(/\.[a-z]+$/i, '')}.png`)
  }
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
          <select
            className="field rec-beside w-210 flex-none"
            aria-label="laid under it"
            value={beside ?? ''}
            onChange={(e) => setBeside(e.target.value || undefined)}
          >
            <option value="">nothing laid under it</option>
            {others.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
              </option>
            ))}
          </select>
        )}
        <button type="button" className="act whitespace-nowrap" onClick={() => void asPicture()}>
          as picture
        </button>
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
      <main
        className="px-gap pt-0 pb-10 overflow-auto [grid-area:charts] min-h-0 flex flex-col phone:px-10 phone:pt-0 phone:pb-10"
        ref={charts}
      >
        <div
          className="ml-136 border-b-2 border-b-ink flex-none h-56 relative phone:ml-96"
          style={{ paddingInline: EDGE_PX }}
        >
          {range && to - from < 0.98 * end && (
            <button
              type="button"
              className="act top-4 -left-130 absolute phone:px-8 phone:py-0 phone:-left-96"
              onClick={() => {
                setRange(undefined)
                setWhole(whole + 1)
              }}
            >
              whole
            </button>
          )}
          <ol className="overflow-hidden relative h-full" aria-label="stretches that count">
            {points.map(
              (p, i) =>
                p.endS > from &&
                p.startS < to && (
                  <li
                    className="bottom-0 border-l-2 border-l-ink overflow-hidden [container-type:inline-size] absolute h-52 bg-air"
                    key={p.startS}
                    style={{ left: `${across(p.startS)}%`, width: `${across(p.endS) - across(p.startS)}%` }}
                  >
                    <button
                      className="pl-3 w-full h-full leading-none text-label font-semibold aria-pressed:pl-1 aria-pressed:bg-ink aria-pressed:text-face"
                      type="button"
                      aria-pressed={i === open}
                      onClick={() => {
                        setWhy(undefined)
                        setOpen(i === open ? undefined : i)
                      }}
                    >
                      {p.kind === 'hold' ? `${Math.round(p.rpm / 50) * 50}` : KINDS[p.kind]}
                    </button>
                  </li>
                ),
            )}
          </ol>
          {open !== undefined && shown && (
            <StretchEnds
              startS={shown.startS}
              endS={shown.endS}
              range={[from, to]}
              lastS={end}
              onMove={(a, b) => move(open, a, b)}
            />
          )}
          <ul
            className="-mt-54 overflow-hidden relative h-full pointer-events-none"
            aria-label="stretches that are left out"
          >
            {ways.map(
              (w) =>
                w.endS > from &&
                w.startS < to && (
                  <li
                    className="bottom-0 border-l-0 border-l-ink overflow-hidden [container-type:inline-size] bg-transparent pointer-events-auto absolute h-52"
                    key={w.startS}
                    style={{ left: `${across(w.startS)}%`, width: `${across(w.endS) - across(w.startS)}%` }}
                  >
                    <button
                      className="pl-3 text-small font-medium text-soft w-full h-full leading-none aria-pressed:pl-1 aria-pressed:bg-face-2 aria-pressed:text-ink aria-pressed:shadow-[inset_0_-4px_0_var(--color-ink)]"
                      type="button"
                      title={REASONS[w.reason][1]}
                      aria-pressed={w === why}
                      onClick={() => {
                        setOpen(undefined)
                        setWhy(w === why ? undefined : w)
                      }}
                    >
                      {REASONS[w.reason][0]}
                    </button>
                  </li>
                ),
            )}
          </ul>
        </div>
        <TraceStack
          key={whole}
          trace={trace}
          channels={channels}
          stretches={stretches}
          expected={expected}
          other={other}
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

const REASONS: Readonly<Record<LeftOut['reason'], readonly [short: string, sentence: string]>> = {
  gap: ['gap', 'No row came: no stretch reaches over it.'],
  'engine-off': ['off', 'The engine stands.'],
  cold: ['cold', 'The coolant is below 75 °C: enrichment moves the trims.'],
  'open-loop': ['open loop', 'The mixture is not under control: the trims stand still or tell nothing.'],
  purge: ['purge', 'Vapour is being purged, and the trims go with it.'],
  rolling: ['rolling', 'Slower than 30 km/h, and not standing: between cruise and idle.'],
  unsteady: ['moving', 'Speed or airflow moved, or it was not held for eight seconds after settling.'],
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
