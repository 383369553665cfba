import type { QuantityId } from '../units/index.js'

/** A channel of the canonical recording, with the range outside which a value is not physics. */
export interface Channel {
  readonly id: ChannelId
  readonly label: string
  readonly quantity: QuantityId
  readonly min: number
  readonly max: number
  /** Header spellings of other exports, as a pattern on lower-case words. */
  readonly spelled: RegExp
}

export type ChannelId =
  | 'time_s'
  | 'rpm'
  | 'speed_kph'
  | 'load_pct'
  | 'ect_c'
  | 'iat_c'
  | 'baro_kpa'
  | 'map_kpa'
  | 'maf_gs'
  | 'throttle_pct'
  | 'idle_valve_pct'
  | 'stft1_pct'
  | 'ltft1_pct'
  | 'stft2_pct'
  | 'ltft2_pct'
  | 'lambda_cmd'
  | 'fuel_status'
  | 'battery_v'
  | 'gauge_vacuum_kpa'
  | 'purge_pct'
  | 'charge_kpa'
  | 'pedal_pct'
  | 'egr_pct'
  | 'spark_deg'
  | 'lambda1'
  | 'lambda2'
  | 'run_time_s'
  | 'mark'

const c = (id: ChannelId, label: string, quantity: QuantityId, min: number, max: number, spelled: RegExp): Channel => ({
  id,
  label,
  quantity,
  min,
  max,
  spelled,
})

/**
 * Channels in canonical order. Ranges: SAE J1979 scaling where it bounds the value (trims −100..99.2 %,
 * airflow to 655 g/s), else physics. A trim beyond ±60 % is beyond what any controller commands.
 */
export const CHANNELS: readonly Channel[] = [
  c('time_s', 'time', 'duration', 0, 1e7, /^(time|elapsed|time ?stamp)\b/),
  c('rpm', 'speed', 'rotation', 0, 15_000, /^(engine )?(rpm|speed$|engine speed)|^engine speed/),
  c('speed_kph', 'road speed', 'speed', 0, 350, /vehicle speed|road speed|^vss|speed_kph/),
  c('load_pct', 'load', 'ratio', 0, 100, /load/),
  c('ect_c', 'coolant', 'temperature', -40, 215, /coolant|^ect/),
  c('iat_c', 'intake air', 'temperature', -40, 215, /intake air|^iat/),
  c('baro_kpa', 'barometer', 'pressure', 40, 115, /baro|atmospheric/),
  c('map_kpa', 'manifold pressure', 'pressure', 0, 350, /manifold.*pressure|^map/),
  // its highest figure of two bytes is written where there is none
  c('maf_gs', 'airflow', 'massFlow', 0, 655, /air ?flow|^maf/),
  c('throttle_pct', 'throttle', 'ratio', 0, 100, /throttle|^tp\b/),
  c('idle_valve_pct', 'idle valve', 'ratio', 0, 100, /idle (air|valve)|^iac/),
  c('stft1_pct', 'short trim 1', 'ratio', -60, 60, /(stft|short).*1|^stft$/),
  c('ltft1_pct', 'long trim 1', 'ratio', -60, 60, /(ltft|long).*1|^ltft$/),
  c('stft2_pct', 'short trim 2', 'ratio', -60, 60, /(stft|short).*2/),
  c('ltft2_pct', 'long trim 2', 'ratio', -60, 60, /(ltft|long).*2/),
  c('lambda1', 'lambda 1', 'mixture', 0, 4, /^(wide.?band|o2|lambda).*1/),
  c('lambda2', 'lambda 2', 'mixture', 0, 4, /^(wide.?band|o2|lambda).*2/),
  c('lambda_cmd', 'commanded lambda', 'mixture', 0.5, 2, /lambda/),
  c('fuel_status', 'loop', 'number', 0, 1, /fuel (system )?status|loop/),
  c('battery_v', 'supply', 'voltage', 0, 36, /volt|battery/),
  c('purge_pct', 'purge', 'ratio', 0, 100, /purge/),
  c('charge_kpa', 'charge pressure', 'pressure', 0, 400, /charge|boost/),
  c('pedal_pct', 'pedal', 'ratio', 0, 100, /pedal/),
  c('egr_pct', 'exhaust gas', 'ratio', 0, 100, /egr/),
  c('spark_deg', 'spark', 'number', -64, 64, /spark|ignition|timing/),
  c('run_time_s', 'running for', 'duration', 0, 65_535, /run ?time/),
  // numbers the moments that a technician marked while recording
  c('mark', 'mark', 'number', 0, 999, /^mark$/),
  c('gauge_vacuum_kpa', 'gauge vacuum', 'pressure', 0, 105, /gauge|vacuum/),
]

/** Canonical header of an exported recording. */
export const CANONICAL_HEADER: readonly ChannelId[] = [
  'time_s',
  'rpm',
  'speed_kph',
  'load_pct',
  'ect_c',
  'iat_c',
  'baro_kpa',
  'map_kpa',
  'maf_gs',
  'throttle_pct',
  'idle_valve_pct',
  'stft1_pct',
  'ltft1_pct',
  'stft2_pct',
  'ltft2_pct',
  'lambda_cmd',
  'fuel_status',
  'battery_v',
]

/** A channel by id, or undefined. */
export const maybeChannel = (id: string): Channel | undefined => CHANNELS.find((x) => x.id === id)

/** Why a value cannot be a reading of a channel, or undefined when it can. */
export function channelProblem(id: ChannelId, value: number): string | undefined {
  const ch = maybeChannel(id)
  if (!ch) return `There is no channel "${id}".`
  if (value >= ch.min && value <= ch.max) return undefined
  return `${ch.label} ${value} is outside ${ch.min} to ${ch.max}: not a reading. Check the figure and its unit.`
}
