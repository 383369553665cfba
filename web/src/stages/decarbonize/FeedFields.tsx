import { FeedTypedForm } from '@uvula/contract'
import {
  airPathOf,
  isAhead,
  methodInfo,
  METHODS,
  STATIONS,
  type FeedChoices,
  type FeedMeasured,
  type MethodId,
  type StationId,
  type Vehicle,
} from '@uvula/core'
import { Field } from '../../kit/Field.js'
import { Pick, type Option } from '../../kit/Pick.js'
import { asNumber, useChecked } from '../../kit/useChecked.js'
import { SpeedByEar } from '../../parts/SpeedByEar.js'
import { NUMBERS, PRODUCTS, SPEED_FROM } from './words.js'

const WAYS: readonly Option<MethodId>[] = METHODS.filter((m) => m.feeds).map((m) => ({ value: m.id, label: m.label }))

/** The feed point that goes with a way: as it is, where it does; else the usual one of its kind that this engine has. */
function pointFor(method: MethodId, point: StationId, points: readonly Option<StationId>[]): StationId {
  const { at } = methodInfo(method)
  if (at === undefined || (at === 'ahead') === isAhead(point)) return point
  const usual: readonly StationId[] = at === 'ahead' ? ['boost-pipe', 'duct', 'throttle'] : ['plenum', 'gaskets']
  return usual.find((u) => points.some((p) => p.value === u)) ?? point
}

/** What the feed is planned from. */
export function FeedFields({
  feed,
  measured,
  vehicle,
  onChange,
}: {
  feed: FeedChoices
  /** What the visit knows: shown where nothing is typed. */
  measured: FeedMeasured
  vehicle: Vehicle
  onChange: (part: Partial<FeedChoices>) => void
}) {
  const points: readonly Option<StationId>[] = airPathOf(vehicle).stations.map(({ info: { id } }) => ({
    value: id,
    label: STATIONS.find((s) => s.id === id)!.label,
  }))
  // by ear only what was heard counts: an older figure is not shown as if it did
  const byEar = feed.speedFrom === 'microphone' || feed.speedFrom === 'ripple'
  return (
    <>
      <div className="grid grid-cols-2 gap-x-16 gap-y-2 narrow:grid-cols-1">
        <Row label="way">
          <Pick
            label="way"
            value={feed.method}
            options={WAYS}
            onChange={(method) => onChange({ method, point: pointFor(method, feed.point, points) })}
          />
        </Row>
        <Row label="feed point">
          <Pick label="feed point" value={feed.point} options={points} onChange={(point) => onChange({ point })} />
        </Row>
        <Row label="product">
          <Pick
            label="product"
            value={feed.product.kind}
            options={PRODUCTS}
            onChange={(kind) => onChange({ product: { kind, afr: 14.5 } })}
          />
        </Row>
        <Row label="speed read by">
          <Pick
            label="speed read by"
            value={feed.speedFrom}
            options={SPEED_FROM}
            onChange={(speedFrom) => onChange({ speedFrom })}
          />
        </Row>
      </div>
      {byEar && <SpeedByEar vehicle={vehicle} onSpeed={(rpm) => onChange({ rpm })} />}
      <Numbers
        feed={feed}
        measured={byEar ? { ...measured, rpm: feed.rpm } : measured}
        turbo={vehicle.induction === 'turbo'}
        onChange={onChange}
      />
    </>
  )
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div>
      <span className="text-small text-soft">{label}</span>
      {children}
    </div>
  )
}

/** Typed figures: the plan follows each as it is right. What is measured stands in grey until something is typed. */
function Numbers({
  feed,
  measured,
  turbo,
  onChange,
}: {
  feed: FeedChoices
  measured: FeedMeasured
  turbo: boolean
  onChange: (part: Partial<FeedChoices>) => void
}) {
  const { doseMl, labelMaxMl } = feed
  const form = useChecked(FeedTypedForm, { doseMl, labelMaxMl })
  const { errors } = form.formState
  const keep = async (key: keyof FeedTypedForm): Promise<void> => {
    if (await form.trigger(key)) onChange({ [key]: form.getValues(key) })
  }
  const known: Partial<Record<keyof FeedTypedForm, number>> = measured
  return (
    <form className="grid gap-y-2">
      {NUMBERS.filter((n) => turbo || !n.turboOnly).map((n) => (
        <Field
          key={n.key}
          label={n.label}
          unit={n.unit}
          inputMode="decimal"
          placeholder={known[n.key] === undefined ? 'not known' : `${show(known[n.key]!)} measured`}
          error={errors[n.key]?.message}
          {...form.register(n.key, { setValueAs: asNumber('number'), onChange: () => void keep(n.key) })}
        />
      ))}
    </form>
  )
}

const show = (x: number): string => (Math.abs(x) >= 100 ? x.toFixed(0) : x.toFixed(1))
