import { emptyVisit, ENGINE_PATTERNS, type VisitFile } from '@uvula/core'

const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', receivedAt: '2026-01-01T09:00:01Z' }

/** A visit with nothing in it, of a four with an airflow sensor. */
export function aVisit(part: Partial<VisitFile> = {}): VisitFile {
  const spec = { ...ENGINE_PATTERNS[0].vehicle, name: 'test car', altitudeM: 0 }
  const vehicle = { ...meta, id: 'car', plate: 'T 1', customer: '', spec }
  const visit: VisitFile['visit'] = {
    ...meta,
    id: 'v',
    vehicleId: 'car',
    openedAt: meta.at,
    state: 'open',
    intent: 'complaint',
    complaint: '',
    signs: [],
    conditions: [],
    altitudeM: 0,
    ambientC: 15,
  }
  return { ...emptyVisit(vehicle, visit), ...part }
}
