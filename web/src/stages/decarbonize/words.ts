import type { FeedRequest } from '@uvula/core'
import type { FeedTypedForm } from '@uvula/contract'
import type { Option } from '../../kit/Pick.js'

/** What is typed, in the order it is asked. */
export const NUMBERS: readonly {
  readonly key: keyof FeedTypedForm
  readonly label: string
  readonly unit: string
  readonly turboOnly?: true
}[] = [
  { key: 'doseMl', label: 'dose wanted', unit: 'mL' },
  { key: 'labelMaxMl', label: 'label at most', unit: 'mL' },
  { key: 'rpm', label: 'speed held', unit: 'rpm' },
  { key: 'airGS', label: 'airflow there', unit: 'g/s' },
  { key: 'coolantC', label: 'coolant', unit: '°C' },
  { key: 'boostKpa', label: 'charge over ambient', unit: 'kPa', turboOnly: true },
  { key: 'trimStopPct', label: 'trim can take off', unit: '%' },
  { key: 'fuelCutAbove', label: 'fuel cut from', unit: 'rpm' },
]

/** What must be so before anything is fed. */
export const CONDITIONS: readonly {
  readonly key: 'extraction' | 'fireCover' | 'heldRunning'
  readonly label: string
}[] = [
  { key: 'extraction', label: 'extraction on' },
  { key: 'fireCover', label: 'extinguisher at hand' },
  { key: 'heldRunning', label: 'cannot stop by itself' },
]

export const PRODUCTS: readonly Option<'combustible' | 'water'>[] = [
  { value: 'combustible', label: 'intake cleaner' },
  { value: 'water', label: 'demineralised water' },
]

export const SPEED_FROM: readonly Option<FeedRequest['speedFrom']>[] = [
  { value: 'scan', label: 'scan tool' },
  { value: 'pick-up', label: 'inductive pick-up' },
  { value: 'ripple', label: 'pressure ripple' },
  { value: 'microphone', label: 'microphone' },
  { value: 'guessed', label: 'guessed' },
]

export const LAMP = 'STOP: the engine lamp flashes'
