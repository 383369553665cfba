import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import {
  betterWay,
  closeDownOf,
  feedHindrances,
  feedOfRun,
  feedRequestOf,
  lastRound,
  hasController,
  mayHaveParticulateFilter,
  liquidBoundOf,
  live,
  measuredForFeed,
  methodInfo,
  planFeed,
  runsGoingOn,
  firstFeedMethod,
  schoolsAt,
  trimRho,
  vehicleAtPlace,
  type FeedChoices,
  type FeedResult,
  type FeedRunState,
  type VisitFile,
} from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { Schools } from '../../parts/Schools.js'
import { useNow } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { FeedFields, fitting } from './FeedFields.js'
import { Gain } from './Gain.js'
import { LimitChart } from './LimitChart.js'
import { LastFeed } from './LastFeed.js'
import { Plan, Reach } from './Plan.js'
import { CONDITIONS, LAMP } from './words.js'

/** The feed: its plan largest, the limit curve under it, what it is made from beside. */
export function Decarbonize({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const navigate = useNavigate()
  const vehicle = vehicleAtPlace(file)
  const bound = liquidBoundOf(vehicle)
  const controlled = hasController(vehicle)
  const now = useNow(5000)
  const method = firstFeedMethod(vehicle)
  const [form, setForm] = useState<FeedChoices>(() => ({
    method,
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 60,
    labelMaxMl: 250,
    point: 'plenum',
    speedFrom: controlled ? 'scan' : 'pick-up',
    extraction: false,
    fireCover: false,
    lampFlashing: false,
    heldRunning: false,
    ...(mayHaveParticulateFilter(vehicle) ? { filterClear: false } : {}),
    // a point that this engine has
    ...fitting(vehicle, { method, point: 'plenum' }),
  }))
  const measured = measuredForFeed(file, now, form.rpm)
  const going = runsGoingOn(file).find((r) => r.procedure === 'feed')
  const asked = feedRequestOf(file, form, now, going !== undefined)
  const planned: FeedResult = asked.ok ? planFeed({ ...asked.request, vehicle }) : asked
  const open = feedHindrances(file, now)
  const result: FeedResult = open.length
    ? { ok: false, refusals: [...open, ...(planned.ok ? [] : planned.refusals)] }
    : planned
  const better = planned.ok && asked.ok ? betterWay({ ...asked.request, vehicle }, planned.plan) : undefined
  const set = (part: Partial<FeedChoices>): void =>
    setForm((was) => ({ ...was, ...part, equipment: { ...was.equipment, ...part.equipment } }))
  const arm = (): void => {
    if (!asked.ok) return
    const id = `${file.visit.id}:run:${newId()}`
    const before = live(file.runs).filter((r) => r.procedure === 'feed').length
    write('runs', id, {
      visitId: file.visit.id,
      procedure: 'feed',
      attempt: before + 1,
      preconditions: [],
      events: [],
      feed: asked.request,
      afterRound: lastRound(file),
    })
    void navigate(`/visit/${encodeURIComponent(file.visit.id)}/run/${encodeURIComponent(id)}`)
  }
  const last = live(file.runs)
    .filter((r) => r.procedure === 'feed' && r.events.length > 0)
    .at(-1)
  const lastFed = last && feedOfRun(file, last, now)
  // what is still to be done with it comes first
  const over = lastFed !== undefined && isOver(lastFed) && closeDownOf(last!).every((s) => s.done)
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(300px,0.85fr)] gap-28 px-gap py-14 narrow:grid-cols-1 narrow:px-14">
      <section>
        {last && lastFed && !over && <LastFeed file={file} run={last} state={lastFed} />}
        {result.ok ? (
          <>
            <Plan plan={result.plan} />
            {better && (
              <p className="wrong mt-6" data-testid="absurd">
                {result.plan.shots} shots in {result.plan.minutes.toFixed(0)} minutes: this way is too small for the
                dose. {cap(methodInfo(better.method).label)} takes {better.minutes.toFixed(0)} minutes.{' '}
                <button type="button" className="act" onClick={() => set({ method: better.method })}>
                  take that
                </button>
              </p>
            )}
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
              <p key={r.message} className="wrong" data-rule={r.rule}>
                {r.message}
              </p>
            ))}
          </div>
        )}
        <div className="my-8 flex flex-wrap gap-8">
          {CONDITIONS.filter(
            (x) => (controlled || !x.controlled) && (!x.filtered || mayHaveParticulateFilter(vehicle)),
          ).map((x) => (
            <Tick key={x.key} checked={form[x.key] === true} onChange={(on) => set({ [x.key]: on })}>
              {x.label}
            </Tick>
          ))}
        </div>
        {controlled && (
          <Tick
            checked={form.lampFlashing}
            onChange={(lampFlashing) => set({ lampFlashing })}
            className="w-full border-4"
          >
            {LAMP}
          </Tick>
        )}
        <h2 className="mt-8 text-small text-soft">
          rate against what this engine can burn; film at most {bound.liquidMl.toFixed(1)} mL anywhere
        </h2>
        {bound.said && (
          <p className="mb-6 border-l-6 border-l-ink pl-10" data-testid="guess">
            {bound.said}{' '}
            <Link to={`/visit/${encodeURIComponent(file.visit.id)}/arrive?view=engine`}>See to it on this engine</Link>
          </p>
        )}
        <LimitChart
          airGS={form.airGS ?? measured.airGS ?? 0}
          plan={result.ok ? result.plan : undefined}
          rho={trimRho(asked.ok ? asked.request.trims : undefined)}
          afr={form.product.afr}
        />
        {result.ok && <Reach plan={result.plan} />}
        <Gain file={file} />
      </section>
      <section>
        <FeedFields feed={form} measured={measured} vehicle={vehicle} onChange={set} />
        <Schools
          schools={schoolsAt('decarbonize', vehicle)}
          onTake={({ take }) =>
            take &&
            set({
              ...fitting(vehicle, { ...form, method: take.method ?? form.method }),
              product: { ...form.product, kind: take.product ?? 'combustible' },
            })
          }
        />
        {last && lastFed && over && <LastFeed file={file} run={last} state={lastFed} />}
      </section>
    </div>
  )
}

const isOver = (s: FeedRunState): boolean => s.phase === 'done' || s.phase === 'stopped'

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
