import { ChevronLeft } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import { emptyVisit, ENGINE_PATTERNS, type Vehicle } from '@uvula/core'
import { EngineDrawing } from '../parts/EngineDrawing.js'
import { newId } from '../store/database.js'
import { outbox } from '../store/outbox.js'
import { technician } from '../store/settings.js'
import { seedVisit, useBay } from '../store/visit.js'
import { Waiting } from './States.js'

/** A new car in under a minute: the nearest of eight drawn engines, then plate and name; what differs is tapped on arrival. */
export function NewCar() {
  const { bay } = useBay()
  const navigate = useNavigate()
  const client = useQueryClient()
  const [pattern, setPattern] = useState(ENGINE_PATTERNS[0])
  const [plate, setPlate] = useState('')
  const [name, setName] = useState('')
  const [customer, setCustomer] = useState('')
  const [problem, setProblem] = useState<string>()
  if (!bay) return <Waiting what="the shop" />
  const altitudeM = bay.shop.altitudeM
  const take = async (): Promise<void> => {
    if (!plate.trim()) return setProblem('plate: a plate, or any name that finds the car again')
    const spec: Vehicle = { ...pattern.vehicle, name: name.trim() || plate.trim(), altitudeM }
    const [vehicleId, visitId] = [`car-${newId()}`, `visit-${newId()}`]
    const at = new Date().toISOString()
    const base = { by: technician(), at, baseVersion: 0 }
    const vehicle = { plate: plate.trim().toUpperCase(), customer: customer.trim(), spec }
    const visit = {
      vehicleId,
      openedAt: at,
      state: 'open',
      intent: 'complaint',
      complaint: '',
      signs: [],
      conditions: [],
      altitudeM,
      ambientC: 15,
    } as const
    const meta = { by: base.by, at, version: 0 }
    await seedVisit(client, emptyVisit({ ...meta, id: vehicleId, ...vehicle }, { ...meta, id: visitId, ...visit }))
    await outbox.add({ ...base, noun: 'vehicles', id: vehicleId, data: vehicle })
    await outbox.add({ ...base, noun: 'visits', id: visitId, visitId, data: visit })
    void navigate(`/visit/${visitId}/arrive`)
  }
  return (
    <div className="p-gap gap-20 max-w-1280 grid narrow:p-16">
      <header className="pb-10 border-b-2 border-b-ink gap-16 flex items-center">
        <Link to="/" className="w-tap h-tap grid place-items-center" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="mr-auto text-name font-semibold">New car: the nearest engine, then its plate</h1>
      </header>
      <ul className="gap-0 grid grid-cols-4 narrow:grid-cols-2">
        {ENGINE_PATTERNS.map((p) => (
          <li key={p.id}>
            <button
              className="px-12 pt-8 pb-12 border border-line w-full aria-pressed:[outline:4px_solid_var(--color-ink)] aria-pressed:[outline-offset:-4px]"
              type="button"
              aria-pressed={p.id === pattern.id}
              data-pattern={p.id}
              onClick={() => setPattern(p)}
            >
              <EngineDrawing vehicle={{ ...p.vehicle, name: p.label, altitudeM }} plain />
              <b>{p.label}</b> <span className="text-soft text-small">{p.vehicle.displacementL.toFixed(1)} L</span>
            </button>
          </li>
        ))}
      </ul>
      <form
        className="gap-gap grid grid-cols-[1fr_1fr_1fr_auto] items-end narrow:gap-8 narrow:grid-cols-[1fr]"
        onSubmit={(e) => {
          e.preventDefault()
          void take()
        }}
      >
        <label>
          <span className="text-soft text-small">plate</span>
          <input className="field" value={plate} maxLength={20} autoFocus onChange={(e) => setPlate(e.target.value)} />
        </label>
        <label>
          <span className="text-soft text-small">what people call it</span>
          <input className="field" value={name} maxLength={60} onChange={(e) => setName(e.target.value)} />
        </label>
        <label>
          <span className="text-soft text-small">customer</span>
          <input className="field" value={customer} maxLength={120} onChange={(e) => setCustomer(e.target.value)} />
        </label>
        <button type="submit" className="act next">
          take it in
        </button>
      </form>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
    </div>
  )
}
