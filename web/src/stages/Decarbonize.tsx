import { useState } from 'react'
import { useNavigate } from 'react-router'
import {
  airPathOf,
  feedProcedure,
  lastRound,
  live,
  liquidBoundMl,
  METHODS,
  mixtureLimitGS,
  planFeed,
  pointsOfRound,
  runsGoingOn,
  STATIONS,
  stateOfRun,
  trimRho,
  vehicleAtPlace,
  FEED,
  type FeedPlan,
  type FeedRequest,
  type MethodId,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { StartTimer } from '../parts/Timers.js'
import { newId } from '../store/database.js'
import { useWriter } from '../store/visit.js'

type Form = Omit<FeedRequest, 'vehicle' | 'feedRunning' | 'trims'>

const NUMBERS: readonly {
  readonly key: 'doseMl' | 'labelMaxMl' | 'airGS' | 'rpm' | 'coolantC'
  readonly label: string
  readonly unit: string
}[] = [
  { key: 'doseMl', label: 'dose wanted', unit: 'mL' },
  { key: 'labelMaxMl', label: 'label at most', unit: 'mL' },
  { key: 'rpm', label: 'speed held', unit: 'rpm' },
  { key: 'airGS', label: 'airflow there', unit: 'g/s' },
  { key: 'coolantC', label: 'coolant', unit: '°C' },
]
const TICKS: readonly { readonly key: 'extraction' | 'fireCover' | 'heldRunning'; readonly label: string }[] = [
  { key: 'extraction', label: 'extraction on' },
  { key: 'fireCover', label: 'extinguisher at hand' },
  { key: 'heldRunning', label: 'cannot stop by itself' },
]

/** The feed: rate against its limit curve, the plan, what forbids it. */
export function Decarbonize({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const navigate = useNavigate()
  const vehicle = vehicleAtPlace(file)
  const points = pointsOfRound(file, lastRound(file))
  const hold = points.find((p) => p.kind === 'hold') ?? points.find((p) => p.kind === 'idle')
  const [form, setForm] = useState<Form>(() => ({
    method: 'metered-port',
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 60,
    labelMaxMl: 250,
    point: 'plenum',
    airGS: Number((hold?.means.maf_gs ?? 0).toFixed(1)),
    rpm: Math.round(hold?.rpm ?? 0),
    speedFrom: 'scan',
    coolantC: hold?.means.ect_c ?? 90,
    extraction: false,
    fireCover: false,
    lampFlashing: false,
    heldRunning: false,
    boostKpa: 0,
  }))
  const t = hold?.means
  const trims =
    t?.trim1_pct === undefined
      ? undefined
      : { total: t.trim1_pct / 100, totalMin: -0.25, short: (t.stft1_pct ?? 0) / 100, shortMin: -0.2 }
  const going = runsGoingOn(file).find((r) => r.procedure === 'feed')
  const feed = { ...form, ...(trims ? { trims } : {}), feedRunning: going !== undefined }
  const result = planFeed({ ...feed, vehicle })
  const set = (part: Partial<Form>): void => setForm({ ...form, ...part })
  const arm = (): void => {
    const id = `${file.visit.id}:run:${newId()}`
    const before = live(file.runs).filter((r) => r.procedure === 'feed').length
    write('runs', id, {
      visitId: file.visit.id,
      procedure: 'feed',
      attempt: before + 1,
      preconditions: [],
      events: [],
      feed,
    })
    void navigate(`/visit/${encodeURIComponent(file.visit.id)}/run/${encodeURIComponent(id)}`)
  }
  const last = live(file.runs)
    .filter((r) => r.procedure === 'feed' && r.events.length)
    .at(-1)
  const lastState = last && stateOfRun(file, last)
  return (
    <div className="bench px-gap py-14 gap-28 grid grid-cols-[minmax(0,1fr)_minmax(300px,1.05fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section>
        <h2 className="text-soft text-small">rate against what this engine can burn</h2>
        <LimitChart
          airGS={form.airGS}
          plan={result.ok ? result.plan : undefined}
          liquidMl={liquidBoundMl(vehicle.displacementL, vehicle.cylinders, vehicle.compressionRatio)}
          rho={trimRho(trims)}
          afr={form.product.afr}
        />
        {result.ok ? <Plan plan={result.plan} /> : null}
      </section>
      <section>
        <div className="gap-y-4 gap-x-16 grid grid-cols-2 narrow:grid-cols-1">
          <label className="gap-6 grid grid-cols-[1fr_96px_36px] items-center text-label">
            <span>way</span>
            <select
              className="field text-label text-left col-[2_/_-1] bg-face"
              value={form.method}
              onChange={(e) => set({ method: e.target.value as MethodId })}
            >
              {METHODS.filter((m) => m.feeds).map((m) => (
                <option key={m.id} value={m.id}>
                  {m.label}
                </option>
              ))}
            </select>
          </label>
          <label className="gap-6 grid grid-cols-[1fr_96px_36px] items-center text-label">
            <span>feed point</span>
            <select
              className="field text-label text-left col-[2_/_-1] bg-face"
              value={form.point}
              onChange={(e) => set({ point: e.target.value as StationId })}
            >
              {airPathOf(vehicle)
                .stations.map((s) => s.info.id)
                .map((id) => (
                  <option key={id} value={id}>
                    {STATIONS.find((s) => s.id === id)!.label}
                  </option>
                ))}
            </select>
          </label>
          <label className="gap-6 grid grid-cols-[1fr_96px_36px] items-center text-label">
            <span>product</span>
            <select
              className="field text-label text-left col-[2_/_-1] bg-face"
              value={form.product.kind}
              onChange={(e) =>
                set({
                  product:
                    e.target.value === 'water' ? { kind: 'water', afr: 14.5 } : { kind: 'combustible', afr: 14.5 },
                })
              }
            >
              <option value="combustible">intake cleaner</option>
              <option value="water">demineralised water</option>
            </select>
          </label>
          <label className="gap-6 grid grid-cols-[1fr_96px_36px] items-center text-label">
            <span>speed read by</span>
            <select
              className="field text-label text-left col-[2_/_-1] bg-face"
              value={form.speedFrom}
              onChange={(e) => set({ speedFrom: e.target.value as Form['speedFrom'] })}
            >
              <option value="scan">scan tool</option>
              <option value="pick-up">inductive pick-up</option>
              <option value="ripple">pressure ripple</option>
              <option value="microphone">microphone</option>
              <option value="guessed">guessed</option>
            </select>
          </label>
          {NUMBERS.map((n) => (
            <label className="gap-6 grid grid-cols-[1fr_96px_36px] items-center text-label" key={n.key}>
              <span>{n.label}</span>
              <input
                className="field fig text-figure text-right"
                inputMode="decimal"
                value={form[n.key]}
                onChange={(e) =>
                  set({ [n.key]: Number(e.target.value.replace(',', '.').replace(/[^0-9.]/g, '')) || 0 })
                }
              />
              <span className="text-soft text-small">{n.unit}</span>
            </label>
          ))}
        </div>
        <div className="mx-0 my-8 gap-8 flex flex-wrap">
          {TICKS.map((x) => (
            <button
              key={x.key}
              type="button"
              className="act"
              aria-pressed={form[x.key]}
              onClick={() => set({ [x.key]: !form[x.key] })}
            >
              {x.label}
            </button>
          ))}
          <button
            type="button"
            className="act"
            aria-pressed={form.lampFlashing}
            onClick={() => set({ lampFlashing: !form.lampFlashing })}
          >
            lamp flashes
          </button>
        </div>
        {result.ok ? (
          <button type="button" className="act strong" onClick={arm}>
            arm the feed: {feedProcedure(result.plan).steps.length / 2} shots
          </button>
        ) : (
          result.refusals.map((r) => (
            <p key={r.rule} className="wrong" data-rule={r.rule}>
              {r.message}
            </p>
          ))
        )}
        {lastState?.status === 'passed' && (
          <div className="mx-0 my-8 gap-8 flex flex-wrap">
            <StartTimer
              file={file}
              label="soak"
              kind="soak"
              seconds={60 * (METHODS.find((m) => m.id === last!.feed!.method)!.soakMinutes || 15)}
            />
          </div>
        )}
        {lastState && lastState.status !== 'running' && (
          <p className="text-small">Last feed: {lastState.reason ?? lastState.status}.</p>
        )}
      </section>
    </div>
  )
}

function Plan({ plan: p }: { plan: FeedPlan }) {
  return (
    <div data-testid="plan">
      <p className="gap-24 flex items-baseline flex-wrap">
        <span>
          <span className="fig text-share">{p.shots}</span> shots of <span className="fig text-share">{p.shotS}</span>{' '}
          s, <span className="fig text-share">{p.pauseS}</span> s between
        </span>
      </p>
      <p>
        {p.rateMlS.toFixed(2)} mL/s at {p.rpm.toFixed(0)} rpm, {p.minutes.toFixed(0)} minutes, then soak {p.soakMinutes}
        . Held back by {p.limitedBy}; film at most {p.peakFilmMl.toFixed(1)} of {p.limits.liquidMl.toFixed(1)} mL.
        Expect a dip of about {p.dipRpm} rpm a shot.
      </p>
      <p className="text-small">
        <b>Stop when</b> {p.stopSigns.join('; ')}.
      </p>
      <p className="text-soft text-small">
        Reaches {p.reaches.join(', ')}. Not {p.misses.join(', ')}.
      </p>
    </div>
  )
}

const W = 480
const H = 210

/** Limits over airflow, ten seconds and one, and where the plan stands. */
function LimitChart({
  airGS,
  plan,
  liquidMl,
  rho,
  afr,
}: {
  airGS: number
  plan?: FeedPlan
  liquidMl: number
  rho: number
  afr: number
}) {
  const xMax = Math.max(12, airGS * 1.5)
  const yMax = mixtureLimitGS(xMax, afr, FEED.lambdaSecond, 1) * 1.1
  const X = (g: number): number => 46 + (g / xMax) * (W - 60)
  const Y = (r: number): number => 14 + (1 - r / yMax) * (H - 54)
  const line = (lambda: number, r: number): string =>
    `M ${X(0)} ${Y(0)} L ${X(xMax)} ${Y(mixtureLimitGS(xMax, afr, lambda, r))}`
  return (
    <figure>
      <svg className="chart wide" viewBox={`0 0 ${W} ${H}`} role="img" aria-label="feed rate against its limits">
        <path d={`${line(FEED.lambdaMin, rho)} L ${X(xMax)} ${Y(0)} Z`} className="chart-band" />
        <path d={line(FEED.lambdaMin, rho)} className="limit-curve" />
        <path d={line(FEED.lambdaSecond, 1)} className="limit-curve second" />
        <line x1={X(0)} x2={X(xMax)} y1={Y(0)} y2={Y(0)} className="chart-axis" />
        <line x1={X(0)} x2={X(0)} y1={Y(0)} y2={10} className="chart-axis" />
        {[0.25, 0.5, 0.75, 1].map((k) => (
          <g key={k}>
            <line x1={X(xMax * k)} x2={X(xMax * k)} y1={Y(0)} y2={Y(0) + 8} className="chart-tick" />
            <text x={X(xMax * k)} y={Y(0) + 25} textAnchor="middle">
              {(xMax * k).toFixed(0)}
            </text>
          </g>
        ))}
        <text x={X(0) + 6} y={22} className="chart-unit">
          feed, g/s
        </text>
        {plan && (
          <>
            <path d={`M ${X(airGS)} ${Y(0)} V ${Y(plan.tenSecondGS)}`} className="chart-line" />
            <path d={`M ${X(airGS)} ${Y(plan.tenSecondGS) - 9} l 9 9 l -9 9 l -9 -9 Z`} className="chart-mark" />
          </>
        )}
      </svg>
      <figcaption className="text-soft text-small">
        airflow, g/s. Limits: over ten seconds (full), over one (dashed). Film at most {liquidMl.toFixed(1)} mL
        anywhere.
      </figcaption>
    </figure>
  )
}
