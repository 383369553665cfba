import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'

/** A car of a drawn pattern at an altitude, and what differs. */
export const carOf = (id: string, altitudeM: number, part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'Test car',
  altitudeM,
  ...part,
})
