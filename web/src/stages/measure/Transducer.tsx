import { Collapsible } from 'radix-ui'
import { useEffect, useState } from 'react'
import {
  calibrationOf,
  formatIn,
  mayKeepLive,
  parseTyped,
  visitPressureKpa,
  type Calibration,
  type VisitFile,
} from '@uvula/core'
import type { TransducerState } from '@uvula/contract'
import { FieldRow } from '../../kit/FieldRow.js'
import { Address } from '../../parts/Address.js'
import { useUnit } from '../../store/settings.js'
import { useShop } from '../../store/visit.js'
import { useDevice, type Device } from './useDevice.js'

/** So much is taken at a steady idle [s]. */
const TAKE_S = 5
/** A waveform from a file or from a transducer. */
export type Taken = Pick<File, 'name' | 'size' | 'arrayBuffer'>
const KEPT = 'uvula-calibration'

/** What a transducer gave at two known pressures. */
interface Points {
  readonly open?: number
  readonly drawn?: number
  /** Vacuum at the second [kPa]. */
  readonly vacuumKpa?: number
}

const silent = (s: TransducerState): TransducerState => ({ ...s, phase: 'lost', mean: undefined })

/** A transducer that reads by itself, and its calibration: the hose open, and one known vacuum. */
export function Transducer({
  file,
  onCalibration,
  onTake,
}: {
  file: VisitFile
  onCalibration: (c: Calibration | undefined) => void
  onTake: (f: Taken) => void
}) {
  const device = useDevice<TransducerState>('transducer', silent)
  const { state } = device
  const ambient = visitPressureKpa(file.visit)
  const [points, setPoints] = useState<Points>(() => JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Points)
  const { open, drawn, vacuumKpa } = points
  const made =
    open === undefined || drawn === undefined || vacuumKpa === undefined
      ? undefined
      : calibrationOf({ raw: open, kpa: ambient }, { raw: drawn, kpa: ambient - vacuumKpa })
  const calibration = made?.ok ? made.value : undefined
  const { scale, offset } = calibration ?? {}
  useEffect(() => {
    onCalibration(scale === undefined || offset === undefined ? undefined : { scale, offset })
  }, [scale, offset, onCalibration])
  const set = (part: Points): void => {
    const next = { ...points, ...part }
    localStorage.setItem(KEPT, JSON.stringify(next))
    setPoints(next)
  }
  const mine = state?.phase === 'running' && state.visitId === file.visit.id ? state : undefined
  return (
    <div className="mt-14 border-t border-t-line pt-8" data-transducer={state?.phase ?? 'off'}>
      {state && state.phase !== 'off' && state.visitId === file.visit.id ? (
        <Connected device={device} calibration={calibration} onTake={onTake} />
      ) : (
        <div className="flex flex-wrap items-end gap-8">
          <button
            type="button"
            className="act"
            onClick={() => void device.ask('stand-in', { visitId: file.visit.id, seed: 1 + (Date.now() % 100_000) })}
          >
            practise on a simulated transducer
          </button>
          <Address
            label="transducer at"
            keep="uvula-transducer"
            example="192.168.0.21:36100"
            problem={device.problem}
            onConnect={(host, port) => void device.ask('connect', { visitId: file.visit.id, host, port })}
          />
        </div>
      )}
      <Calibrate points={points} live={mine?.mean} onChange={set} />
      {made && !made.ok && (
        <p className="wrong" role="alert">
          {made.error.message}
        </p>
      )}
      {points.open !== undefined && (
        <button type="button" className="act mt-6" onClick={() => (localStorage.removeItem(KEPT), setPoints({}))}>
          forget the calibration
        </button>
      )}
    </div>
  )
}

function Connected({
  device: { state, problem, ask },
  calibration,
  onTake,
}: {
  device: Device<TransducerState>
  calibration: Calibration | undefined
  onTake: (f: Taken) => void
}) {
  const shop = useShop()
  const unit = useUnit('pressure')
  const [failed, setFailed] = useState<string>()
  if (!state) return null
  const keep = mayKeepLive(state.standIn, shop?.demo === true)
  const take = async (): Promise<void> => {
    setFailed(undefined)
    const r = await fetch(`/api/transducer/capture?seconds=${TAKE_S}`)
    const text = await r.text()
    if (!r.ok) return setFailed((JSON.parse(text) as { detail: string }).detail)
    const bytes = new TextEncoder().encode(text)
    onTake({
      name: `live, ${state.standIn ? 'simulated' : 'transducer'}`,
      size: bytes.length,
      arrayBuffer: () => Promise.resolve(bytes.buffer),
    })
  }
  const kpa = calibration && state.mean !== undefined ? calibration.offset + calibration.scale * state.mean : undefined
  return (
    <div>
      <p>
        {state.phase === 'running'
          ? state.standIn
            ? 'A simulated engine is read, for practice.'
            : 'The transducer is read.'
          : state.phase === 'connecting'
            ? 'Waiting for the transducer.'
            : 'The transducer says nothing any more.'}{' '}
        {state.phase !== 'running' && state.message}
      </p>
      {state.mean !== undefined && (
        <p>
          <span className="fig text-reading">{state.mean.toFixed(3)}</span> {state.unit}
          {kpa !== undefined && (
            <>
              {' '}
              <span className="fig text-reading" data-testid="absolute">
                {formatIn(kpa, unit)}
              </span>{' '}
              {unit.symbol} absolute
            </>
          )}
        </p>
      )}
      <div className="mt-6 flex flex-wrap gap-8">
        <button
          type="button"
          className="act strong"
          disabled={state.phase !== 'running' || !keep.ok}
          onClick={() => void take()}
        >
          take the last {TAKE_S} s
        </button>
        {state.standIn &&
          (['engine', 'open', 'pump'] as const).map((hose) => (
            <button
              key={hose}
              type="button"
              className={`act ${state.hose === hose ? 'border-4' : ''}`}
              onClick={() => void ask('hose', { hose })}
            >
              {hose === 'engine' ? 'hose at the plenum' : hose === 'open' ? 'hose open' : 'hose at the pump, 40 kPa'}
            </button>
          ))}
        <button type="button" className="act" onClick={() => void ask('off', {})}>
          let go of it
        </button>
      </div>
      {!keep.ok && <p className="text-small">{keep.refusals[0].message}</p>}
      {(failed ?? problem) && (
        <p className="wrong" role="alert">
          {failed ?? problem}
        </p>
      )}
    </div>
  )
}

function Calibrate({
  points,
  live,
  onChange,
}: {
  points: Points
  /** What it gives now. */
  live: number | undefined
  onChange: (part: Points) => void
}) {
  const unit = useUnit('pressure')
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({})
  const keep = (key: keyof Points): void => {
    const text = typed[key]
    if (text === undefined) return
    setTyped(Object.fromEntries(Object.entries(typed).filter(([k]) => k !== key)))
    if (key === 'vacuumKpa') {
      const read = parseTyped(text, 'pressure', unit)
      if (read.ok) onChange({ vacuumKpa: read.value })
      return
    }
    const raw = Number(text.replace(',', '.'))
    if (text.trim() !== '' && Number.isFinite(raw)) onChange({ [key]: raw })
  }
  const row = (key: keyof Points, label: string, symbol: string, shown: string): React.ReactNode => (
    <FieldRow
      id={`calibrate-${key}`}
      label={label}
      unit={symbol}
      wide
      value={typed[key] ?? shown}
      onText={(text) => setTyped({ ...typed, [key]: text })}
      onBlur={() => keep(key)}
      onEnter={() => keep(key)}
    >
      {live !== undefined && key !== 'vacuumKpa' && (
        <button type="button" className="act" onClick={() => onChange({ [key]: Number(live.toFixed(4)) })}>
          take it now
        </button>
      )}
    </FieldRow>
  )
  return (
    <Collapsible.Root className="mt-8">
      <Collapsible.Trigger className="act">calibrate it: hose open, then one known vacuum</Collapsible.Trigger>
      <Collapsible.Content>
        <ol aria-label="calibration">
          {row('open', 'signal, hose open', '', points.open === undefined ? '' : String(points.open))}
          {row('drawn', 'signal, vacuum drawn', '', points.drawn === undefined ? '' : String(points.drawn))}
          {row(
            'vacuumKpa',
            'vacuum drawn',
            unit.symbol,
            points.vacuumKpa === undefined ? '' : formatIn(points.vacuumKpa, unit),
          )}
        </ol>
      </Collapsible.Content>
    </Collapsible.Root>
  )
}
