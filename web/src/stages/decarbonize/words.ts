import type { FeedRequest, MethodId } from '@uvula/core'
import type { FeedTypedForm } from '@uvula/contract'
import type { Option } from '../../kit/Pick.js'

/** What is typed, in the order it is asked. */
export const NUMBERS: readonly {
  readonly key: keyof FeedTypedForm
  readonly label: string
  readonly unit: string
  readonly turboOnly?: true
  /** Asked only where a controller meters the fuel. */
  readonly controlled?: true
  /** Asked only where fuel trims are. */
  readonly trimmed?: true
  /** Asked only of ways that it sets the rate of. */
  readonly ways?: readonly MethodId[]
}[] = [
  { key: 'doseMl', label: 'dose wanted', unit: 'mL' },
  { key: 'labelMaxMl', label: 'label at most', unit: 'mL' },
  { key: 'pressureBar', label: 'regulator at most', unit: 'bar', ways: ['canister'] },
  { key: 'nozzleMm', label: 'nozzle', unit: 'mm', ways: ['canister'] },
  { key: 'rpm', label: 'speed held', unit: 'rpm' },
  { key: 'airGS', label: 'airflow there', unit: 'g/s' },
  { key: 'coolantC', label: 'coolant', unit: '°C' },
  { key: 'boostKpa', label: 'charge over ambient', unit: 'kPa', turboOnly: true },
  { key: 'trimStopPct', label: 'trim can take off', unit: '%', trimmed: true },
  { key: 'labelRateMlS', label: 'label rate', unit: 'mL/s' },
  { key: 'nozzleMm', label: 'narrowest bore', unit: 'mm', ways: ['gravity-bleed', 'drip-line'] },
  { key: 'massG', label: 'can lost, weighed', unit: 'g', ways: ['aerosol-ahead-of-plate', 'mist-raised-idle'] },
  { key: 'overS', label: 'sprayed for', unit: 's', ways: ['aerosol-ahead-of-plate', 'mist-raised-idle'] },
  { key: 'fuelCutAbove', label: 'fuel cut from', unit: 'rpm', controlled: true },
]

/** What must be so before anything is fed. */
export const CONDITIONS: readonly {
  readonly key: 'extraction' | 'fireCover' | 'heldRunning' | 'filterClear'
  readonly label: string
  readonly controlled?: true
  /** Asked only where a particulate filter may be. */
  readonly filtered?: true
}[] = [
  { key: 'extraction', label: 'extraction on' },
  { key: 'fireCover', label: 'extinguisher at hand' },
  { key: 'heldRunning', label: 'cannot stop by itself', controlled: true },
  { key: 'filterClear', label: 'particulate filter: none, or clear', filtered: true },
]

/** What can be fed, as it is chosen. */
export const PRODUCTS: readonly Option<'combustible' | 'water'>[] = [
  { value: 'combustible', label: 'intake cleaner' },
  { value: 'water', label: 'demineralised water' },
]

/** How the speed is read, as it is chosen. */
export const SPEED_FROM: readonly Option<FeedRequest['speedFrom']>[] = [
  { value: 'scan', label: 'scan tool' },
  { value: 'pick-up', label: 'inductive pick-up' },
  { value: 'ripple', label: 'pressure ripple' },
  { value: 'microphone', label: 'microphone' },
  { value: 'guessed', label: 'guessed' },
]

/** The STOP of a lamp that flashes. */
export const LAMP = 'STOP: the engine lamp flashes'
