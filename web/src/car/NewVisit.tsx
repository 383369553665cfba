import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { emptyVisit, type VehicleRecord, type VisitRecord } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { newId } from '../store/database.js'
import { outbox } from '../store/outbox.js'
import { technician } from '../store/settings.js'
import { seedVisit, useShop } from '../store/visit.js'
import { shopIso } from '../store/clock.js'

/** Air about the shop until somebody types it [°C]. */
const AMBIENT_C = 15

/** Begins a visit of a car and gives its id; the car itself is in the outbox or on the server already. */
export async function beginVisit(client: QueryClient, vehicle: VehicleRecord, shop: Shop): Promise<string> {
  const id = `visit-${newId()}`
  const at = shopIso()
  const own = {
    vehicleId: vehicle.id,
    openedAt: at,
    state: 'open',
    intent: 'complaint',
    complaint: '',
    signs: [],
    conditions: [],
    altitudeM: shop.altitudeM,
    ambientC: AMBIENT_C,
  } as const satisfies Partial<VisitRecord>
  await seedVisit(client, emptyVisit(vehicle, { ...own, id, version: 0, by: technician(), at }))
  await outbox.add({ noun: 'visits', id, visitId: id, by: technician(), at, baseVersion: 0, data: own })
  return id
}

/** One tap takes a known car in again. */
export function NewVisit({ vehicle, words = 'new visit' }: { vehicle: VehicleRecord; words?: string }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const shop = useShop()
  return (
    <button
      type="button"
      className="act next"
      disabled={!shop}
      onClick={() =>
        void beginVisit(client, vehicle, shop!).then((id) => navigate(`/visit/${encodeURIComponent(id)}/arrive`))
      }
    >
      {words}
    </button>
  )
}
