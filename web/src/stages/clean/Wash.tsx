import { useState } from 'react'
import {
  doneOf,
  endRefusals,
  lastRound,
  mayTouch,
  nextProduct,
  oilOf,
  productInfo,
  productsOf,
  stageDone,
  stagesOf,
  stagesOwed,
  surfaceInfo,
  wayOn,
  type ProductId,
  type StageDone,
  type StepRecord,
  type TimerRecord,
  type VisitFile,
  type WashStage,
} from '@uvula/core'
import { Pick } from '../../kit/Pick.js'
import { Tick } from '../../kit/Tick.js'
import { StartTimer } from '../../parts/Timers.js'
import { ownFields, useWriter } from '../../store/visit.js'
import { newId } from '../../store/database.js'
import { TakePhoto } from '../station/TakePhoto.js'
import { Ports } from './Ports.js'
import { shopIso } from '../../store/clock.js'

const TIMER_OF: Readonly<Partial<Record<WashStage['id'], TimerRecord['kind']>>> = {
  soak: 'soak',
  dry: 'drying',
  settle: 'drying',
}

/** The wash of one surface: its stages in order, each with what it is done with and how long it takes; then its end test. */
export function Wash({ file, step }: { file: VisitFile; step: StepRecord }) {
  const { write } = useWriter(file)
  const info = surfaceInfo(step.surface)
  const stages = stagesOf(step)
  const done = doneOf(step)
  const change = (part: object): void => write('steps', step.id, { ...ownFields(step), ...part })
  const keep = (next: readonly StageDone[], more: object = {}): void =>
    change({ more: { ...step.more, ...more, stages: next } })
  const add = (d: Omit<StageDone, 'at'>): void => keep([...done, { ...d, at: shopIso() }])
  const ends = endRefusals(step, file.vehicle.spec)
  const oil = oilOf(step)
  const failed = step.more?.failed ?? []
  const stronger = nextProduct(step.surface, [...new Set([...failed, ...productsOf(step)])])
  const portsOwed = stagesOwed(done, stages, file.vehicle.spec.cylinders).some((o) => o.cylinder !== undefined)
  const toDo = portsOwed ? undefined : stages.find((s) => !s.perCylinder && !stageDone(done, s.id))
  return (
    <div data-step={step.surface}>
      <h2 className="text-name font-semibold">
        {info.label}: {productInfo(step.product).label}, {wayOn(step.method, step.surface)}
      </h2>
      <ol className="mt-6" aria-label="stages">
        {stages.some((s) => s.perCylinder) && (
          <Ports
            file={file}
            stages={stages}
            done={done}
            onDone={(id, cylinder, product) => add({ id, cylinder, ...(product ? { product } : {}) })}
            onUndone={(id, cylinder) => keep(done.filter((d) => !(d.id === id && d.cylinder === cylinder)))}
          />
        )}
        {stages
          .filter((s) => !s.perCylinder)
          .map((s) => (
            <Stage
              key={s.id}
              file={file}
              step={step}
              stage={s}
              next={s === toDo && !step.passed}
              done={done.findLast((d) => d.id === s.id)}
              onDone={(d) => add({ id: s.id, ...d })}
              onUndone={() => keep(done.filter((d) => d.id !== s.id))}
            />
          ))}
      </ol>
      {oil && <p className={oil.over ? 'wrong' : 'border-l-6 border-l-ink pl-10'}>{oil.said}</p>}
      <p className="mt-8">Ends when: {info.doneWhen}.</p>
      {!step.passed &&
        ends.map((r) => (
          <p key={r.rule} className="wrong" data-rule={r.rule}>
            {r.message}
          </p>
        ))}
      <div className="mt-6 flex flex-wrap gap-8">
        <Tick
          checked={step.passed}
          disabled={!step.passed && ends.length > 0}
          onChange={() => change({ passed: !step.passed, afterRound: step.passed ? null : lastRound(file) })}
        >
          {step.passed ? 'ended' : 'ends there'}
        </Tick>
        {!step.passed && stronger && (
          <button
            type="button"
            className="act"
            onClick={() =>
              change({ product: stronger.id, more: { ...step.more, stages: done, failed: [...failed, step.product] } })
            }
          >
            does not end: on with {stronger.label}
          </button>
        )}
      </div>
    </div>
  )
}

function Stage({
  file,
  step,
  stage,
  next,
  done,
  onDone,
  onUndone,
}: {
  file: VisitFile
  step: StepRecord
  stage: WashStage
  next: boolean
  done: StageDone | undefined
  onDone: (d: Partial<StageDone>) => void
  onUndone: () => void
}) {
  const { write } = useWriter(file)
  const fits = (stage.products ?? []).filter((p) => mayTouch(p, step.surface).ok)
  const [product, setProduct] = useState<ProductId | undefined>(() =>
    fits.includes(step.product) ? step.product : fits.at(0),
  )
  const [weight, setWeight] = useState('')
  const grams = Number(weight.replace(',', '.'))
  const weighed = stage.weighed && !(weight.trim() !== '' && grams >= 0 && grams <= 20_000)
  return (
    <li
      className={`flex flex-wrap items-center gap-x-10 gap-y-4 border-b border-b-line py-6 ${next ? 'border-l-6 border-l-ink pl-10' : ''}`}
      data-stage={stage.id}
    >
      <Tick
        checked={done !== undefined}
        disabled={done === undefined && weighed}
        onChange={() =>
          done ? onUndone() : onDone({ ...(product ? { product } : {}), ...(stage.weighed ? { value: grams } : {}) })
        }
        className={`min-w-150 ${next ? 'border-4' : ''}`}
      >
        {stage.label}
      </Tick>
      <span className="min-w-200 flex-1 text-small leading-tight">
        {stage.how}
        {done?.product && <span className="block text-soft">with {productInfo(done.product).label}</span>}
        {done?.value !== undefined && <span className="block text-soft">{done.value} g</span>}
      </span>
      {!done && fits.length > 1 && product && (
        <span className="w-230">
          <Pick
            label={`${stage.label} with`}
            value={product}
            options={fits.map((p) => ({ value: p, label: productInfo(p).label }))}
            onChange={setProduct}
          />
        </span>
      )}
      {!done && stage.weighed && (
        <label className="flex items-center gap-6">
          <input
            className="field fig w-90 text-reading"
            inputMode="decimal"
            aria-label={`${stage.label}, weight`}
            value={weight}
            onChange={(e) => setWeight(e.target.value)}
          />
          g
        </label>
      )}
      {stage.id === 'inspect' && (
        <TakePhoto
          onTake={(mime, content) =>
            write('photos', `${file.visit.id}:photo:${newId()}`, {
              visitId: file.visit.id,
              station: step.station,
              mime,
              content,
            })
          }
        />
      )}
      {!done && stage.seconds !== undefined && (
        <StartTimer
          file={file}
          label={`${surfaceInfo(step.surface).label} ${TIMER_OF[stage.id] === 'drying' ? 'drying' : stage.label}`}
          kind={TIMER_OF[stage.id] ?? 'other'}
          seconds={stage.seconds}
        />
      )}
    </li>
  )
}
