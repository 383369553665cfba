import { FeedTypedForm } from '@uvula/contract'
import {
  feedPointsOf,
  hasController,
  hasTrims,
  inletsOf,
  methodInfo,
  METHODS,
  type FeedChoices,
  type FeedEquipment,
  type FeedMeasured,
  type FeedPoint,
  type MethodId,
  type StationId,
  type Vehicle,
} from '@uvula/core'
import { Field } from '../../kit/Field.js'
import { Pick, type Option } from '../../kit/Pick.js'
import { Tick } from '../../kit/Tick.js'
import { asNumber, useChecked } from '../../kit/useChecked.js'
import { SpeedByEar } from '../../parts/SpeedByEar.js'
import { NUMBERS, PRODUCTS, SPEED_FROM } from './words.js'

const WAYS: readonly Option<MethodId>[] = METHODS.filter((m) => m.feeds).map((m) => ({ value: m.id, label: m.label }))

/** Where the airflow of a feed comes from, where no sensor's word is taken for it. */
const AIR_SAID = {
  pressure: (gS: string) => `No airflow sensor: by the pressure that was read there it draws ${gS} g/s at the least.`,
  'pressure-against-sensor': (gS: string) =>
    `The airflow sensor reads more than the engine can swallow at the pressure that was read there: ${gS} g/s is taken, what it draws at the least.`,
} as const

/** Points that go with a way, the most even first. */
const pointsFor = (v: Vehicle, method: MethodId, together: boolean): FeedPoint[] =>
  feedPointsOf(v, together).filter((p) => {
    const { at } = methodInfo(method)
    return at === undefined || (at === 'ahead') === p.ahead
  })

/** Way and point of a change: a point that does not go with the way gives place to the most even one that does. */
export function fitting(v: Vehicle, q: Pick<FeedChoices, 'method' | 'point' | 'together'>): Partial<FeedChoices> {
  const points = pointsFor(v, q.method, q.together === true)
  const together = q.together === true && points.length > 0
  const all = together ? points : pointsFor(v, q.method, false)
  const point = all.some((p) => p.point === q.point) ? q.point : (all.at(0)?.point ?? q.point)
  return { method: q.method, point, together }
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
  const { method, point, together } = feed
  const fits = pointsFor(vehicle, method, together === true)
  const at = fits.find((p) => p.point === point)
  const points: readonly Option<StationId>[] = fits.map((p) => ({
    value: p.point,
    label: `${p.label}, worst cylinder × ${p.worst.toFixed(1)}`,
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
            onChange={(way) => onChange(fitting(vehicle, { method: way, point, together }))}
          />
        </Row>
        <Row label="feed point">
          <Pick label="feed point" value={point} options={points} onChange={(to) => onChange({ point: to })} />
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
            options={SPEED_FROM.filter((o) => o.value !== 'scan' || hasController(vehicle))}
            onChange={(speedFrom) => onChange({ speedFrom })}
          />
        </Row>
      </div>
      {at && (
        <p className="text-small text-soft">
          {cap(at.words)}. Reaches {at.reaches}.
        </p>
      )}
      {inletsOf(vehicle) === 2 && methodInfo(method).at !== 'port' && (
        <Tick
          checked={together === true}
          onChange={(on) => onChange(fitting(vehicle, { method, point, together: on }))}
          className="my-6"
        >
          both inlets at once, a nozzle in each
        </Tick>
      )}
      {byEar && <SpeedByEar vehicle={vehicle} onSpeed={(rpm) => onChange({ rpm })} />}
      <Numbers
        feed={feed}
        measured={byEar ? { ...measured, rpm: feed.rpm } : measured}
        vehicle={vehicle}
        onChange={onChange}
      />
      {measured.airFrom && measured.airFrom !== 'sensor' && feed.airGS === undefined && (
        <p className="text-small text-soft">{AIR_SAID[measured.airFrom](show(measured.airGS!))}</p>
      )}
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
  vehicle,
  onChange,
}: {
  feed: FeedChoices
  measured: FeedMeasured
  vehicle: Vehicle
  onChange: (part: Partial<FeedChoices>) => void
}) {
  const { doseMl, labelMaxMl } = feed
  const form = useChecked(FeedTypedForm, { doseMl, labelMaxMl })
  const { errors } = form.formState
  const keep = async (key: keyof FeedTypedForm): Promise<void> => {
    if (!(await form.trigger(key))) return
    const value = form.getValues(key)
    onChange(isEquipment(key) ? { equipment: { [key]: value } } : { [key]: value })
  }
  const known: Partial<Record<keyof FeedTypedForm, number>> = measured
  return (
    <form className="grid gap-y-2">
      {NUMBERS.filter(
        (n) =>
          (vehicle.induction === 'turbo' || !n.turboOnly) &&
          (hasController(vehicle) || !n.controlled) &&
          (hasTrims(vehicle) || !n.trimmed) &&
          (!n.ways || n.ways.includes(feed.method)),
      ).map((n) => (
        <Field
          key={n.label}
          label={n.label}
          unit={n.unit}
          inputMode="decimal"
          placeholder={
            known[n.key] === undefined
              ? 'not known'
              : `${show(known[n.key]!)} ${n.key === 'airGS' && measured.airFrom !== 'sensor' ? 'by pressure' : 'measured'}`
          }
          error={errors[n.key]?.message}
          {...form.register(n.key, { setValueAs: asNumber('number'), onChange: () => void keep(n.key) })}
        />
      ))}
    </form>
  )
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)

const isEquipment = (key: keyof FeedTypedForm): key is keyof FeedEquipment & keyof FeedTypedForm =>
  ['pressureBar', 'nozzleMm', 'massG', 'overS'].includes(key)

const show = (x: number): string => (Math.abs(x) >= 100 ? x.toFixed(0) : x.toFixed(1))
