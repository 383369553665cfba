import type { FaultId } from './faults.js'

/** A sign of the complaint, and how much more often it comes with a fault than without; ours, mild on purpose. */
export interface Sign {
  readonly id: string
  readonly label: string
  /** Heard or felt as it stands and idles; on the road only, or only with the foot down, where nobody in the shop can say that it is gone. */
  readonly felt?: 'idle' | 'driving' | 'pulling'
  readonly favours: Readonly<Partial<Record<FaultId, number>>>
}

/** Likelihood ratios: 1 says nothing. A complaint in words is weak evidence: none exceeds 2. */
export const SIGNS: readonly Sign[] = [
  {
    id: 'idle-hunts',
    label: 'idle hunts',
    felt: 'idle',
    favours: {
      'unmetered-air': 1.8,
      'unmetered-air-bank': 1.5,
      'unmetered-air-duct': 1.6,
      'throttle-deposits': 1.4,
      'idle-valve-stuck': 1.8,
      'pcv-stuck-open': 1.4,
      'purge-stuck-open': 1.5,
      'egr-open-at-idle': 1.4,
    },
  },
  {
    id: 'idle-high',
    label: 'idle high',
    felt: 'idle',
    favours: {
      'unmetered-air': 1.8,
      'unmetered-air-bank': 1.2,
      'pcv-stuck-open': 1.7,
      'idle-valve-stuck': 1.7,
      'idle-learnt-past': 1.8,
    },
  },
  {
    id: 'idle-low',
    label: 'idle low',
    felt: 'idle',
    favours: { 'throttle-deposits': 1.8, 'idle-valve-stuck': 1.7, 'pcv-blocked': 1.3, 'egr-open-at-idle': 1.3 },
  },
  {
    id: 'idle-rough',
    label: 'idle rough',
    felt: 'idle',
    favours: {
      'unmetered-air': 1.3,
      'unmetered-air-bank': 1.6,
      'throttle-deposits': 1.2,
      'egr-open-at-idle': 1.8,
      'weak-cylinder': 2,
      'ignition-misfire': 2,
      'valve-timing-late': 1.6,
      'runner-restriction': 1.4,
      'valve-deposits': 1.3,
    },
  },
  {
    id: 'no-idle',
    label: 'will not idle',
    favours: {
      'unmetered-air': 1.6,
      'unmetered-air-duct': 1.5,
      'throttle-deposits': 1.5,
      'idle-valve-stuck': 1.8,
      'egr-open-at-idle': 2,
      'purge-stuck-open': 1.6,
      'maf-under-reads': 1.3,
      'fuel-delivery-low': 1.4,
      'valve-timing-late': 1.5,
      'exhaust-restriction': 1.4,
      'weak-cylinder': 1.3,
      'ignition-misfire': 1.3,
    },
  },
  {
    id: 'stalls-slowing',
    label: 'stalls when slowing',
    felt: 'driving',
    favours: {
      'throttle-deposits': 2,
      'unmetered-air-duct': 1.6,
      'unmetered-air': 1.3,
      'egr-open-at-idle': 1.6,
      'idle-valve-stuck': 1.8,
    },
  },
  {
    id: 'stumbles',
    label: 'stumbles on take-off',
    felt: 'driving',
    favours: {
      'unmetered-air-duct': 1.5,
      'maf-under-reads': 1.5,
      'fuel-delivery-low': 1.3,
      'valve-deposits': 1.8,
      'ignition-misfire': 1.4,
      'egr-open-at-idle': 1.3,
    },
  },
  {
    id: 'hard-start',
    label: 'hard to start',
    favours: {
      'fuel-delivery-low': 1.4,
      'throttle-deposits': 1.3,
      'temperature-sensor-implausible': 1.5,
      'purge-stuck-open': 1.3,
      'weak-cylinder': 1.3,
    },
  },
  {
    id: 'surges',
    label: 'surges',
    felt: 'driving',
    favours: { 'unmetered-air-duct': 1.4, 'fuel-delivery-low': 1.3, 'boost-leak': 1.4 },
  },
  {
    id: 'thirsty',
    label: 'thirsty',
    felt: 'driving',
    favours: {
      'fuel-delivery-high': 1.8,
      'maf-over-reads': 1.6,
      'map-sensor-offset': 1.3,
      'temperature-sensor-implausible': 1.5,
      'exhaust-restriction': 1.3,
      'valve-timing-late': 1.3,
      'oxygen-sensor-biased': 1.4,
    },
  },
  {
    id: 'flat',
    label: 'flat at high load',
    felt: 'pulling',
    favours: {
      'fuel-delivery-low': 1.8,
      'maf-under-reads': 1.7,
      'intake-restriction': 1.9,
      'exhaust-restriction': 2,
      'boost-leak': 2,
      'valve-timing-late': 1.6,
      'valve-deposits': 1.4,
      'runner-restriction': 1.3,
    },
  },
  { id: 'lamp', label: 'lamp on', favours: {} },
  {
    id: 'hiss',
    label: 'hiss',
    felt: 'idle',
    favours: {
      'unmetered-air': 2,
      'unmetered-air-bank': 1.8,
      'unmetered-air-duct': 1.2,
      'boost-leak': 1.7,
      'pcv-stuck-open': 1.3,
    },
  },
]

/** Conditions under which the complaint shows, and which causes those favour. */
export const CONDITIONS: readonly {
  readonly id: string
  readonly label: string
  readonly favours: Readonly<Partial<Record<FaultId, number>>>
}[] = [
  { id: 'cold', label: 'cold', favours: {} },
  { id: 'warm', label: 'warm', favours: {} },
  { id: 'ac-on', label: 'A/C or electrical load', favours: {} },
  { id: 'in-gear', label: 'in gear', favours: {} },
  // a full tank fills the canister
  { id: 'after-fuel', label: 'after refuelling', favours: { 'purge-stuck-open': 4 } },
  // what was off may be on wrong
  {
    id: 'after-work',
    label: 'after recent work',
    favours: {
      'unmetered-air': 1.5,
      'unmetered-air-bank': 1.5,
      'unmetered-air-duct': 1.5,
      'boost-leak': 1.5,
      'idle-learnt-past': 1.5,
    },
  },
]
