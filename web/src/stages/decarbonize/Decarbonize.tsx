import { useState } from 'react'
import { useNavigate } from 'react-router'
import {
  lastRound,
  liquidBoundMl,
  live,
  METHODS,
  planFeed,
  pointsOfRound,
  runsGoingOn,
  stateOfRun,
  trimRho,
  vehicleAtPlace,
  type VisitFile,
} from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { StartTimer } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { FeedFields, type Feed } from './FeedFields.js'
import { LimitChart } from './LimitChart.js'
import { Plan, Reach } from './Plan.js'
import { CONDITIONS, LAMP } from './words.js'

/** The feed: its plan largest, the limit curve under it, what it is made from beside. */
export function Decarbonize({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const navigate = useNavigate()
  const vehicle = vehicleAtPlace(file)
  const points = pointsOfRound(file, lastRound(file))
  const hold = points.find((p) => p.kind === 'hold') ?? points.find((p) => p.kind === 'idle')
  const [form, setForm] = useState<Feed>(() => ({
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
  const set = (part: Partial<Feed>): void => setForm((now) => ({ ...now, ...part }))
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
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(300px,0.85fr)] gap-28 px-gap py-14 narrow:grid-cols-1 narrow:px-14">
      <section>
        {result.ok ? (
          <>
            <Plan plan={result.plan} />
            <div className="sticky bottom-0 z-1 bg-face py-8">
              <button type="button" className="act strong w-full justify-center" onClick={arm}>
                arm the feed: {result.plan.shots} shots
              </button>
            </div>
          </>
        ) : (
          <div className="grid gap-8">
            <p className="name">No feed as things stand</p>
            {result.refusals.map((r) => (
              <p key={r.rule} className="wrong" data-rule={r.rule}>
                {r.message}
              </p>
            ))}
          </div>
        )}
        <h2 className="mt-8 text-small text-soft">
          rate against what this engine can burn; film at most{' '}
          {liquidBoundMl(vehicle.displacementL, vehicle.cylinders, vehicle.compressionRatio).toFixed(1)} mL anywhere
        </h2>
        <LimitChart
          airGS={form.airGS}
          plan={result.ok ? result.plan : undefined}
          rho={trimRho(trims)}
          afr={form.product.afr}
        />
        {result.ok && <Reach plan={result.plan} />}
      </section>
      <section>
        <FeedFields feed={form} vehicle={vehicle} onChange={set} />
        <div className="my-8 flex flex-wrap gap-8">
          {CONDITIONS.map((x) => (
            <Tick key={x.key} checked={form[x.key]} onChange={(on) => set({ [x.key]: on })}>
              {x.label}
            </Tick>
          ))}
        </div>
        <Tick
          checked={form.lampFlashing}
          onChange={(lampFlashing) => set({ lampFlashing })}
          className="w-full border-4"
        >
          {LAMP}
        </Tick>
        {lastState?.status === 'passed' && (
          <div className="my-8 flex flex-wrap gap-8">
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
