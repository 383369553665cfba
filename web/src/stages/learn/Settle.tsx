import { useCallback, useEffect, useRef, useState } from 'react'
import {
  lastRound,
  mayKeepLive,
  mayTake,
  roundToFill,
  settlingOf,
  takenOf,
  TAKEN_STOPS,
  visitDeposits,
  type IdleSample,
  type SettleTaken,
  type VisitFile,
} from '@uvula/core'
import { Chart } from '../../charts/Chart.js'
import { scaleAxis } from '../../charts/base.js'
import type { ChartTokens } from '../../charts/tokens.js'
import { FieldRow } from '../../kit/FieldRow.js'
import { newestValues } from '../../live/liveReadings.js'
import { useLive } from '../../live/liveStore.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { useNow } from '../../parts/Timers.js'
import { Deposits } from '../clean/Deposits.js'
import { newId } from '../../store/database.js'
import { useShop, useWriter } from '../../store/visit.js'
import { shopIso, shopNow } from '../../store/clock.js'

/** A live speed is taken into the curve this often [ms]. */
const LIVE_EVERY_MS = 5000
/** Watching that was left alone so long is over [ms]. */
const FORGOTTEN_MS = 30 * 60_000
const SPEED_MOST = 6000

/** Settle and decide: the idle watched over minutes against its band, its curve drawn, and what follows said. */
export function Settle({ file, onTeach }: { file: VisitFile; onTeach: () => void }) {
  const { write } = useWriter(file)
  const shop = useShop()
  const live = useLive()
  const now = useNow(1000)
  const [typed, setTyped] = useState('')
  const [problem, setProblem] = useState<string>()
  const newest = takenOf(file.balances, 'settle').at(-1)
  const [begun, setBegun] = useState<{ readonly id: string; readonly beganAt: string }>()
  const going =
    begun ??
    (newest && !newest.taken.ended && now - Date.parse(newest.taken.beganAt) < FORGOTTEN_MS
      ? { id: newest.id, beganAt: newest.taken.beganAt }
      : undefined)
  const kept = going ? file.balances.find((b) => b.id === going.id) : newest
  const samples = kept?.taken.kind === 'settle' ? kept.taken.samples : NONE
  const gate = mayTake(file, { kind: 'settle' })
  const may = live.state?.phase === 'live' && mayKeepLive(live.state.standIn, shop?.demo === true).ok
  const liveRpm = may ? newestValues(live.samples).rpm : undefined

  const keep = (next: Pick<SettleTaken, 'samples' | 'ended'>): void => {
    if (!going) return
    write('balances', going.id, {
      visitId: file.visit.id,
      round: kept && 'round' in kept ? kept.round : roundToFill(file),
      taken: { kind: 'settle', beganAt: going.beganAt, ...next },
    })
  }
  const add = (rpm: number): void => {
    if (!going) return
    const s = Math.round((shopNow() - Date.parse(going.beganAt)) / 100) / 10
    keep({ samples: [...samples, { s, rpm }] })
  }
  // the newest speed is taken in by the clock; what it is written with is the newest of everything
  const latest = useRef({ add, liveRpm })
  latest.current = { add, liveRpm }
  const watching = going !== undefined
  useEffect(() => {
    if (!watching) return undefined
    const timer = setInterval(() => {
      const { liveRpm: rpm, add: take } = latest.current
      if (rpm !== undefined) take(Math.round(rpm))
    }, LIVE_EVERY_MS)
    return () => clearInterval(timer)
  }, [watching])

  const enter = (): void => {
    const rpm = Number(typed.trim().replace(',', '.'))
    if (!typed.trim() || !(rpm >= 0 && rpm <= SPEED_MOST))
      return setProblem(`engine speed: “${typed.trim()}” is not a speed; accepted is 0 to ${SPEED_MOST} rpm`)
    setProblem(undefined)
    setTyped('')
    add(rpm)
  }
  const said = samples.length ? settlingOf(file, samples) : undefined
  const { min, max } = file.vehicle.spec.idleSpecRpm
  const teach = said?.state === 'high' || said?.state === 'low'
  return (
    <div className="grid grid-cols-[340px_minmax(0,1fr)] gap-28 py-8 narrow:grid-cols-1">
      <section>
        <p className="fig text-share leading-none" data-settle={said?.state ?? 'none'}>
          {said ? said.rpm.toFixed(0) : '–'} <span className="text-body font-normal">rpm</span>
        </p>
        <p className={`my-8 ${teach ? 'border-l-6 border-l-ink pl-10 font-semibold' : ''}`}>
          {said
            ? said.say
            : `Warm it up, everything off, and watch where the idle settles: ${min} to ${max} rpm belongs. Only outside of it is anything taught.`}
        </p>
        <Stops file={file} />
        {TAKEN_STOPS.settle
          .filter((stop) => !stopSeen(file, stop))
          .map((stop) => (
            <Stop key={stop} file={file} id={stop} />
          ))}
        {going ? (
          <>
            {liveRpm === undefined ? (
              <ol>
                <FieldRow
                  id="settle-rpm"
                  label="speed now"
                  unit="rpm"
                  strong
                  value={typed}
                  onText={setTyped}
                  onEnter={enter}
                />
              </ol>
            ) : (
              <p className="text-small text-soft">
                Read live, every {LIVE_EVERY_MS / 1000} s: {liveRpm.toFixed(0)} rpm now.
              </p>
            )}
            {problem && (
              <p className="wrong" role="alert">
                {problem}
              </p>
            )}
            <button
              type="button"
              className="act mt-8 w-full justify-center"
              onClick={() => {
                if (samples.length) keep({ samples, ended: true })
                setBegun(undefined)
              }}
            >
              {((now - Date.parse(going.beganAt)) / 60_000).toFixed(1)} min watched: stop
            </button>
          </>
        ) : (
          <button
            type="button"
            className={`act mt-8 w-full justify-center ${said ? '' : 'strong'}`}
            disabled={!gate.ok}
            onClick={() => setBegun({ id: `${file.visit.id}:settle:${newId()}`, beganAt: shopIso() })}
          >
            {said ? 'watch it again' : 'watch the idle'}
          </button>
        )}
        {teach && (
          <button type="button" className="act strong mt-8 w-full justify-center" onClick={onTeach}>
            teach it
          </button>
        )}
      </section>
      <section>
        <Curve samples={samples} min={min} max={max} />
        <Deposits file={file} />
      </section>
    </div>
  )
}

const NONE: readonly IdleSample[] = []

/** How near idle control is to either stop, on one scale. */
function Stops({ file }: { file: VisitFile }) {
  const d = visitDeposits(file, lastRound(file))
  if (!d) return null
  const used = 100 * (1 - d.authority)
  return (
    <div className="my-8" data-near={d.near ?? 'neither'}>
      <div
        className="relative h-26 border-x-3 border-b-3 border-ink"
        role="img"
        aria-label={`idle control ${used.toFixed(0)} % of its range from shut`}
      >
        <span className="absolute bottom-0 h-22 w-5 bg-ink" style={{ left: `calc(${used}% - 2px)` }} />
      </div>
      <p className="flex justify-between text-small text-soft">
        <span>shut{d.learnt || file.vehicle.spec.idleControl === 'idle-valve' ? '' : ' (not known exactly)'}</span>
        <span>idle control</span>
        <span>open</span>
      </p>
    </div>
  )
}

/** The curve of settling, with its band behind it. */
function Curve({ samples, min, max }: { samples: readonly IdleSample[]; min: number; max: number }) {
  const option = useCallback(
    (t: ChartTokens) => {
      const rpm = samples.map((x) => x.rpm)
      return {
        grid: { left: 64, right: 18, top: 40, bottom: 56 },
        xAxis: scaleAxis(t, 'x', { name: 'minutes watched', min: 0, max: Math.max(5, (samples.at(-1)?.s ?? 0) / 60) }),
        yAxis: scaleAxis(t, 'y', {
          name: 'idle speed, rpm',
          min: Math.floor((Math.min(min, ...rpm) - 80) / 50) * 50,
          max: Math.ceil((Math.max(max, ...rpm) + 80) / 50) * 50,
        }),
        series: [
          {
            type: 'line',
            data: samples.map((x) => [x.s / 60, x.rpm]),
            symbolSize: samples.length > 40 ? 0 : 9,
            symbol: 'circle',
            lineStyle: { width: 2.5, color: t.ink },
            itemStyle: { color: t.ink },
            markArea: {
              silent: true,
              itemStyle: { color: t.air },
              data: [[{ yAxis: min }, { yAxis: max }]],
            },
          },
        ],
      }
    },
    [samples, min, max],
  )
  return (
    <Chart
      label="the idle as it settles, against its band"
      className="h-340 w-full"
      option={option}
      table={{ head: ['s', 'rpm'], rows: samples.map((x) => [x.s, x.rpm]) }}
    />
  )
}
