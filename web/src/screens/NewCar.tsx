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
    <div className="page">
      <header className="page-head">
        <Link to="/" className="back" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1>New car: the nearest engine, then its plate</h1>
      </header>
      <ul className="patterns">
        {ENGINE_PATTERNS.map((p) => (
          <li key={p.id}>
            <button type="button" aria-pressed={p.id === pattern.id} data-pattern={p.id} onClick={() => setPattern(p)}>
              <EngineDrawing vehicle={{ ...p.vehicle, name: p.label, altitudeM }} />
              <b>{p.label}</b> <span className="soft small">{p.vehicle.displacementL.toFixed(1)} L</span>
            </button>
          </li>
        ))}
      </ul>
      <form
        className="new-fields"
        onSubmit={(e) => {
          e.preventDefault()
          void take()
        }}
      >
        <label>
          <span className="small soft">plate</span>
          <input className="field" value={plate} maxLength={20} autoFocus onChange={(e) => setPlate(e.target.value)} />
        </label>
        <label>
          <span className="small soft">what people call it</span>
          <input className="field" value={name} maxLength={60} onChange={(e) => setName(e.target.value)} />
        </label>
        <label>
          <span className="small soft">customer</span>
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
