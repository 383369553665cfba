import type { GaugesState } from '@uvula/contract'
import { useDevice, type Device } from './useDevice.js'

export type Gauges = Device<GaugesState>

const silent = (s: GaugesState): GaugesState => ({ ...s, phase: 'lost', vacuumKpa: undefined })

/** The vacuum gauges of this server, as they read now. */
export const useGauges = (): Gauges => useDevice('gauges', silent)
