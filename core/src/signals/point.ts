import type { ChannelId } from './channels.js'

/** Kinds of operating point of the open format. */
export const POINT_KINDS = [
  'engine-off',
  'key-on',
  'idle',
  'idle-load',
  'hold',
  'cruise',
  'pull',
  'snap',
  'deceleration',
  'cold',
] as const
export type PointKind = (typeof POINT_KINDS)[number]

/** One operating point found in a recording or typed in; all figures in canonical units. */
export interface OperatingPoint {
  readonly kind: PointKind
  readonly rpm: number
  readonly startS: number
  readonly endS: number
  /** Rows behind the figures; 1 for a typed point. */
  readonly n: number
  readonly means: Readonly<Partial<Record<ChannelId | TotalTrim | MomentFigure, number>>>
  readonly sds: Readonly<Partial<Record<ChannelId | TotalTrim | MomentFigure, number>>>
}

/** Total trim per bank in percent, (1+STFT)(1+LTFT) − 1. */
export type TotalTrim = 'trim1_pct' | 'trim2_pct'

/** What a snap tells beyond its heights: delay of the speed behind the pedal or, where that was not recorded, behind the plate; time until it idles again, how far it falls below. */
export type MomentFigure = 'pedal_delay_s' | 'plate_delay_s' | 'settle_s' | 'dip_rpm'

/** Rows from which on the spread of a point says how far it wanders, and sampling adds nothing to its own scatter. */
export const MANY_ROWS = 20

/** Steadiness rules: a point of these is what the rest of the computation may average over. */
export const STEADY = {
  minimumS: 8,
  pullMinimumS: 2,
  pullLoadPct: 80,
  pullLeastRpm: 1000,
  /** Throttle reading above its lowest at which a plate stands wide. */
  widePct: 50,
  movingKph: 5,
  settleS: 5,
  rpmShare: 0.04,
  rpmAbsolute: 40,
  mapKpa: 2,
  mafShare: 0.06,
  trimDriftPctPerS: 0.2,
  warmC: 75,
  /** Rows further apart than this, or than a few usual rows, are a gap: no window reaches over it. */
  gapS: 3,
  gapRows: 5,
  /** An idle that hunts: within these shares of its band, for so long. */
  huntShare: { low: 0.75, high: 1.3 },
  huntS: 20,
  turnsRpm: 250,
  /** Coolant of any engine that has run for a while lies between [°C]. */
  coolantC: { low: -30, high: 125 },
  /** Intake air that a car shows [°C]. */
  intakeC: { low: -30, high: 90 },
  /** A channel polled in turn stands for so long after it was read. */
  heldS: 5,
} as const

/** Total trim in percent from its short and long parts. */
export const totalTrimPct = (stft: number, ltft: number): number => 100 * ((1 + stft / 100) * (1 + ltft / 100) - 1)
