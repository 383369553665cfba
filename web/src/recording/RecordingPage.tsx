import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import {
  expectedAlong,
  laidUnder,
  leftOut,
  live,
  timesBeside,
  vehicleAtPlace,
  waysToLay,
  type Alignment,
  type ChannelId,
  type LeftOut,
  type RecordingRecord,
  type VisitFile,
} from '@uvula/core'
import { Failing, Waiting } from '../parts/States.js'
import { useVisitFile } from '../store/visit.js'
import { Figures } from './Figures.js'
import { Scroll } from '../kit/Scroll.js'
import { Head } from './Head.js'
import { Legend } from './Legend.js'
import { StretchLine } from './StretchLine.js'
import type { Trace } from './traceOption.js'
import { nearest, TraceStack } from './TraceStack.js'
import { useStretches } from './useStretches.js'
import { useCloserLook, useTrace } from './useTraces.js'

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

function Opened({ file, recording, trace }: { file: VisitFile; recording: RecordingRecord; trace: Trace }) {
  const [atS, setAtS] = useState<number>()
  const [open, setOpen] = useState<number>()
  const [why, setWhy] = useState<LeftOut>()
  const [all, setAll] = useState(false)
  const [range, setRange] = useState<readonly [number, number]>()
  const [whole, setWhole] = useState(0)
  const [beside, setBeside] = useState<string>()
  const [by, setBy] = useState<Alignment>('time')
  const { points } = recording
  const under = live(file.recordings).find((r) => r.id === beside)
  const { data: underTrace } = useTrace(under?.id)
  const pair = useMemo(
    () =>
      underTrace &&
      under &&
      ([
        { trace, points },
        { trace: underTrace, points: under.points },
      ] as const),
    [trace, points, underTrace, under],
  )
  const ways = useMemo(() => (pair ? waysToLay(...pair) : []), [pair])
  const way = ways.includes(by) ? by : ways.at(0)
  const other = useMemo(() => {
    const times = pair && way && timesBeside(way, ...pair)
    return times && laidUnder(times, pair[1])
  }, [pair, way])
  const { move, leaveOut, count, asFound } = useStretches(file, recording)
  const end = trace.time_s.at(-1) ?? 0
  const [from, to] = range ?? [0, end]
  const closer = range !== undefined && to - from < 0.98 * end
  const { shown, waiting } = useCloserLook(recording, trace, closer ? range : undefined)
  const at = atS === undefined ? undefined : nearest(shown.time_s as readonly number[], atS)
  const has = DRAWN.filter((id) => trace[id])
  const channels = all ? has : has.slice(0, AT_ONCE)
  const stretches = useMemo(
    () => points.map((p, i) => ({ startS: p.startS, endS: p.endS, strong: i === open })),
    [points, open],
  )
  const expected = useMemo(() => {
    const { low, high } = expectedAlong(trace, vehicleAtPlace(file), file.visit.ambientC)
    return trace.maf_gs ? { maf_gs: [low, high] } : {}
  }, [file, trace])
  const out = useMemo(() => leftOut(drawnRecording(trace), points), [trace, points])
  const showWhole = (): void => {
    setRange(undefined)
    setWhole(whole + 1)
  }
  const turnTo = (stretch: number | undefined, reason: LeftOut | undefined): void => {
    setOpen(stretch)
    setWhy(reason)
  }
  return (
    <div className="h-full grid grid-cols-[minmax(0,1fr)_300px] grid-rows-[54px_minmax(0,1fr)] [grid-template-areas:'head_head'_'charts_side'] phone:grid-cols-1 phone:grid-rows-[auto_minmax(0,1fr)_auto] phone:[grid-template-areas:'head'_'charts'_'side']">
      <Head
        file={file}
        recording={recording}
        endS={end}
        beside={under?.id}
        ways={ways}
        by={way}
        onBeside={setBeside}
        onBy={setBy}
      />
      <main className="min-h-0 [grid-area:charts]">
        <Scroll className="h-full">
          <div className="flex flex-col px-gap pb-10 phone:px-10">
            <StretchLine
              points={points}
              ways={out}
              open={open}
              why={why}
              range={[from, to]}
              onOpen={(i) => turnTo(i, undefined)}
              onWhy={(w) => turnTo(undefined, w)}
              onMove={move}
              onWhole={closer ? showWhole : undefined}
            />
            <Legend
              own={recording.name}
              under={other && under?.name}
              bands={expected.maf_gs !== undefined && channels.includes('maf_gs')}
            />
            <TraceStack
              key={whole}
              trace={trace}
              shown={shown}
              channels={channels}
              stretches={stretches}
              expected={expected}
              other={other}
              at={at}
              range={closer ? range : undefined}
              waiting={waiting}
              onCursor={setAtS}
              onRange={setRange}
            />
            {has.length > AT_ONCE && (
              <button type="button" className="act mt-10 self-start" onClick={() => setAll(!all)}>
                {all ? 'fewer channels' : `${has.length - AT_ONCE} more channels`}
              </button>
            )}
          </div>
        </Scroll>
      </main>
      <Figures
        recording={recording}
        trace={shown}
        channels={has}
        at={at}
        open={open}
        why={why}
        onOpen={setOpen}
        onLeaveOut={(i) => {
          setOpen(undefined)
          leaveOut(i)
        }}
        onCount={closer ? () => count(from, to) : undefined}
        onAsFound={recording.stretches ? asFound : undefined}
      />
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
