import { NewCarForm, type FindResult } from '@uvula/contract'
import { ChevronLeft } from 'lucide-react'
import { Toggle } from 'radix-ui'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import { describeEngine, ENGINE_PATTERNS, vinDoubt, type Vehicle, type VehicleRecord } from '@uvula/core'
import { Field } from '../kit/Field.js'
import { useNarrow } from '../kit/useNarrow.js'
import { useChecked } from '../kit/useChecked.js'
import { EngineAnswers } from '../parts/EngineAnswers.js'
import { EngineDrawing } from '../parts/EngineDrawing.js'
import { newId } from '../store/database.js'
import { outbox } from '../store/outbox.js'
import { technician } from '../store/settings.js'
import { getJson } from '../store/api.js'
import { useShop } from '../store/visit.js'
import { beginVisit, NewVisit } from './NewVisit.js'
import { Waiting } from '../parts/States.js'
import { shopIso } from '../store/clock.js'

/** A new car in under a minute: the nearest of the drawn engines, plate and name; what differs is tapped below, or on arrival. */
export function NewCar() {
  const narrow = useNarrow()
  const shop = useShop()
  const navigate = useNavigate()
  const client = useQueryClient()
  const [pattern, setPattern] = useState<string | undefined>(ENGINE_PATTERNS[0].id)
  const [engine, setEngine] = useState<Omit<Vehicle, 'name' | 'altitudeM'>>(ENGINE_PATTERNS[0].vehicle)
  const form = useChecked(NewCarForm, { plate: '', name: '', customer: '', vin: '' }, 'onSubmit')
  const vin = form.watch('vin')
  const { errors } = form.formState
  const [known, setKnown] = useState<readonly VehicleRecord[]>([])
  const [another, setAnother] = useState(false)
  if (!shop) return <Waiting what="the shop" />
  const altitudeM = shop.altitudeM
  const drawn: Vehicle = { ...engine, name: '', altitudeM }
  const answer = ({ name: _, altitudeM: __, ...spec }: Vehicle): void => {
    setPattern(undefined)
    setEngine(spec)
  }
  const take = form.handleSubmit(async ({ plate, name, customer, vin }) => {
    const known = another ? undefined : await carsWith(plate)
    if (known?.length) return setKnown(known)
    const spec: Vehicle = { ...engine, name: name || plate, altitudeM }
    const at = shopIso()
    const id = `car-${newId()}`
    const vehicle = { plate: plate.toUpperCase(), customer, ...(vin ? { vin: vin.toUpperCase() } : {}), spec }
    await outbox.add({ by: technician(), at, baseVersion: 0, noun: 'vehicles', id, data: vehicle })
    const visit = await beginVisit(client, { by: technician(), at, version: 0, id, ...vehicle }, shop)
    void navigate(`/visit/${visit}/arrive`)
  })
  return (
    <div className="p-gap gap-20 max-w-1280 grid narrow:p-16">
      <header className="pb-10 border-b-2 border-b-ink gap-16 flex items-center">
        <Link to="/" className="w-tap h-tap flex-none grid place-items-center" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="mr-auto text-name font-semibold">New car: the nearest engine, its plate, then what differs</h1>
      </header>
      <main className="contents">
        <ul className="gap-0 grid grid-cols-7 narrow:grid-cols-2">
          {ENGINE_PATTERNS.map((p) => (
            <li key={p.id}>
              <Toggle.Root
                className="px-8 pt-6 pb-8 border border-line h-full w-full text-left text-label leading-tight data-[state=on]:[outline:4px_solid_var(--color-ink)] data-[state=on]:[outline-offset:-4px]"
                pressed={p.id === pattern}
                data-pattern={p.id}
                onPressedChange={() => {
                  setPattern(p.id)
                  setEngine(p.vehicle)
                }}
              >
                <EngineDrawing vehicle={{ ...p.vehicle, name: p.label, altitudeM }} className="h-76 w-full" />
                <b>{p.label}</b>{' '}
                <span className="text-soft text-small whitespace-nowrap">{p.vehicle.displacementL.toFixed(1)} L</span>
              </Toggle.Root>
            </li>
          ))}
        </ul>
        <form
          className="gap-gap grid grid-cols-[1fr_1.3fr_1.3fr_1.5fr_auto] items-end narrow:gap-8 narrow:grid-cols-[1fr]"
          onSubmit={(e) => void take(e)}
        >
          <Field
            label="plate"
            look="above"
            // on a phone the engines come first, and a keyboard would cover them
            autoFocus={!narrow}
            error={errors.plate?.message}
            {...form.register('plate', TRIMMED)}
          />
          <Field
            label="what people call it"
            look="above"
            error={errors.name?.message}
            {...form.register('name', TRIMMED)}
          />
          <Field
            label="customer"
            look="above"
            error={errors.customer?.message}
            {...form.register('customer', TRIMMED)}
          />
          <Field
            label="number on the frame (VIN)"
            look="above"
            error={errors.vin?.message}
            {...form.register('vin', TRIMMED)}
          />
          <button type="submit" className={known.length ? 'act' : 'act next'}>
            take it in
          </button>
        </form>
        {known.map((v) => (
          <section
            key={v.id}
            className="flex flex-wrap items-center gap-16 border-l-6 border-l-ink px-14 py-8"
            role="alert"
          >
            <p className="flex-1">
              <b>{v.plate}</b> is known: {v.spec.name}
              {v.customer ? `, ${v.customer}` : ''}, {describeEngine(v.spec)}.
            </p>
            <NewVisit vehicle={v} words="take that car in" />
            <Link className="act" to={`/car/${encodeURIComponent(v.id)}`}>
              look at its card
            </Link>
            <button
              type="button"
              className="act"
              onClick={() => {
                setKnown([])
                setAnother(true)
              }}
            >
              it is another car
            </button>
          </section>
        ))}
        {vin && vinDoubt(vin) && (
          <p className="border-l-6 border-l-line pl-12" data-testid="vin-doubt">
            {vinDoubt(vin)}
          </p>
        )}
        {another && <p className="text-small">Two cars will carry this plate: “take it in” again goes on.</p>}
        <section className="grid grid-cols-[300px_minmax(0,1fr)] gap-gap narrow:grid-cols-1" aria-label="this engine">
          <div>
            <h2 className="text-small text-soft">this engine: {describeEngine(drawn)}</h2>
            <EngineDrawing vehicle={drawn} />
            <AsKnown onTake={answer} />
          </div>
          <EngineAnswers
            vehicle={drawn}
            onChange={answer}
            className="grid grid-cols-4 gap-x-20 text-label narrow:grid-cols-1"
          />
        </section>
      </main>
    </div>
  )
}

/** An engine that stands in a car that is known already. */
function AsKnown({ onTake }: { onTake: (spec: Vehicle) => void }) {
  const [plate, setPlate] = useState('')
  const [said, setSaid] = useState<string>()
  const take = async (): Promise<void> => {
    const [car] = plate.trim() ? await carsWith(plate) : []
    if (!car) return setSaid('No car here carries that plate.')
    setSaid(`As ${car.spec.name}: ${describeEngine(car.spec)}. What is confirmed there is not confirmed here.`)
    const { confirmed: _, branches: __, stations: ___, ...spec } = car.spec
    onTake(spec)
  }
  return (
    <div className="mt-8">
      <label className="mb-4 block text-small text-soft" htmlFor="as-known">
        copy the engine of
      </label>
      <div className="flex gap-8">
        <input
          id="as-known"
          className="field"
          autoComplete="off"
          value={plate}
          onChange={(e) => setPlate(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && void take()}
        />
        <button type="button" className="act" onClick={() => void take()}>
          copy
        </button>
      </div>
      {said && <p className="text-small">{said}</p>}
    </div>
  )
}

/** Letters as they are meant: without what stands before and behind them. */
const TRIMMED = { setValueAs: (text: string) => text.trim() }

/** Cars that carry a plate already; none is known while the server is away. */
async function carsWith(plate: string): Promise<readonly VehicleRecord[]> {
  const wanted = plate.trim().toUpperCase()
  const found = await getJson<FindResult>(`/api/find?q=${encodeURIComponent(wanted)}`).catch(() => undefined)
  return (found?.vehicles ?? []).filter((v) => v.plate === wanted)
}
