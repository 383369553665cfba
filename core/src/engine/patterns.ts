import type { Vehicle } from './vehicle.js'

/** A drawn engine pattern: the nearest one is picked, then what differs is tapped. */
export interface EnginePattern {
  readonly id: string
  readonly label: string
  readonly vehicle: Omit<Vehicle, 'name' | 'altitudeM'>
}

const base = {
  displacementL: 2,
  cylinders: 4,
  banks: 1,
  compressionRatio: 10.5,
  metering: 'maf',
  induction: 'natural',
  injection: 'port',
  fuel: 'gasoline',
  throttle: 'electronic',
  throttleBoreMm: 58,
  throttleBodies: 1,
  idleControl: 'electronic-throttle',
  egr: 'none',
  pcv: 'valve',
  idleSpecRpm: { min: 650, max: 780 },
  plenum: 'common',
} as const satisfies EnginePattern['vehicle']

/** Eight patterns; figures are middle-of-the-road guesses to be tapped right. */
export const ENGINE_PATTERNS: readonly EnginePattern[] = [
  { id: 'four-maf', label: 'Four, airflow sensor', vehicle: base },
  {
    id: 'four-map',
    label: 'Four, pressure sensor',
    vehicle: { ...base, displacementL: 1.4, metering: 'map', throttleBoreMm: 48, idleSpecRpm: { min: 700, max: 850 } },
  },
  {
    id: 'four-valve',
    label: 'Four, cable throttle, idle valve',
    vehicle: {
      ...base,
      displacementL: 1.6,
      metering: 'map',
      throttle: 'cable',
      throttleBoreMm: 50,
      idleControl: 'idle-valve',
      idleSpecRpm: { min: 750, max: 900 },
    },
  },
  {
    id: 'six-line',
    label: 'Straight six, airflow sensor',
    vehicle: { ...base, displacementL: 2.8, cylinders: 6, throttleBoreMm: 66 },
  },
  {
    id: 'v6-maf',
    label: 'V6, airflow sensor',
    vehicle: {
      ...base,
      displacementL: 2.9,
      cylinders: 6,
      banks: 2,
      throttleBoreMm: 66,
      egr: 'valve',
      idleSpecRpm: { min: 620, max: 740 },
    },
  },
  {
    id: 'v8-maf',
    label: 'V8, airflow sensor',
    vehicle: {
      ...base,
      displacementL: 5.2,
      cylinders: 8,
      banks: 2,
      compressionRatio: 9.8,
      throttle: 'cable',
      throttleBoreMm: 76,
      idleControl: 'idle-valve',
      egr: 'valve',
      idleSpecRpm: { min: 600, max: 700 },
    },
  },
  {
    id: 'turbo-di',
    label: 'Turbo four, direct injection',
    vehicle: {
      ...base,
      displacementL: 1.6,
      metering: 'maf+map',
      induction: 'turbo',
      injection: 'direct',
      throttleBoreMm: 56,
      chargeSensor: true,
    },
  },
  {
    id: 'four-bodies',
    label: 'Four throttles',
    vehicle: {
      ...base,
      displacementL: 1.8,
      metering: 'none',
      injection: 'carburettor',
      throttle: 'cable',
      throttleBoreMm: 42,
      throttleBodies: 4,
      idleControl: 'none',
      plenum: 'individual',
      purge: false,
      idleSpecRpm: { min: 850, max: 1000 },
    },
  },
]
