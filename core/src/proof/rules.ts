/** Quantities compared before and after. */
export type ProofQuantity =
  | 'trim1_pct'
  | 'trim2_pct'
  | 'maf_gs'
  | 'map_kpa'
  | 'gauge_vacuum_kpa'
  | 'charge_kpa'
  | 'rpm'
  | 'wander_rpm'
  | 'throttle_pct'
  | 'idle_valve_pct'
  | 'pedal_delay_s'
  | 'plate_delay_s'
  | 'settle_s'
  | 'dip_rpm'
  | 'fuel_full_pct'
  | 'pump_loss'
  | 'throttle_spread'

/** Variation between two runs of an unchanged car, one standard deviation, and the least change worth having. */
export interface ChangeRule {
  readonly quantity: ProofQuantity
  readonly label: string
  readonly unit: string
  readonly betweenRuns: number
  readonly worthHaving: number
  /** True when both figures are shares of the reading itself. */
  readonly relative: boolean
  /** What is better: nearer to 0, lower, higher, inside its band, or nothing by itself. */
  readonly better: 'zero' | 'lower' | 'higher' | 'none'
  /** Where any sound engine has it: within, less is no gain and more no loss. Ours. */
  readonly belongs?: { readonly min: number; readonly max: number }
}

/** Between runs and worth having: stated starting figures, to be replaced by this shop's own. */
export const CHANGE_RULES: readonly ChangeRule[] = [
  {
    quantity: 'trim1_pct',
    label: 'total trim, bank 1',
    unit: '%',
    betweenRuns: 1.5,
    worthHaving: 3,
    relative: false,
    better: 'zero',
  },
  {
    quantity: 'trim2_pct',
    label: 'total trim, bank 2',
    unit: '%',
    betweenRuns: 1.5,
    worthHaving: 3,
    relative: false,
    better: 'zero',
  },
  {
    quantity: 'maf_gs',
    label: 'airflow',
    unit: 'g/s',
    betweenRuns: 0.02,
    worthHaving: 0.04,
    relative: true,
    better: 'none',
  },
  {
    quantity: 'map_kpa',
    label: 'manifold pressure',
    unit: 'kPa',
    betweenRuns: 1,
    worthHaving: 2,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'gauge_vacuum_kpa',
    label: 'gauge vacuum',
    unit: 'kPa',
    betweenRuns: 1,
    worthHaving: 2,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'charge_kpa',
    label: 'charge pressure',
    unit: 'kPa',
    // the weather of an hour, and the sensor
    betweenRuns: 0.4,
    worthHaving: 1,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'rpm',
    label: 'idle speed',
    unit: 'rpm',
    betweenRuns: 15,
    worthHaving: 30,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'wander_rpm',
    label: 'wander of the idle',
    unit: 'rpm',
    betweenRuns: 0.15,
    worthHaving: 0.3,
    relative: true,
    better: 'lower',
  },
  {
    quantity: 'throttle_pct',
    label: 'throttle opening',
    unit: '%',
    betweenRuns: 0.3,
    worthHaving: 0.6,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'idle_valve_pct',
    label: 'idle valve',
    unit: '%',
    betweenRuns: 1.5,
    worthHaving: 4,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'pedal_delay_s',
    label: 'delay from pedal to speed',
    unit: 's',
    betweenRuns: 0.04,
    worthHaving: 0.1,
    relative: false,
    better: 'lower',
    // rows that are polled in turn can put the answer ahead of the foot
    belongs: { min: -1, max: 0.35 },
  },
  {
    quantity: 'plate_delay_s',
    label: 'delay from throttle plate to speed',
    unit: 's',
    betweenRuns: 0.04,
    worthHaving: 0.1,
    relative: false,
    better: 'lower',
    belongs: { min: -1, max: 0.35 },
  },
  {
    quantity: 'settle_s',
    label: 'settling after a snap',
    unit: 's',
    betweenRuns: 0.5,
    worthHaving: 1,
    relative: false,
    better: 'lower',
    belongs: { min: 0, max: 6.5 },
  },
  {
    quantity: 'dip_rpm',
    label: 'fall below idle after a snap',
    unit: 'rpm',
    betweenRuns: 30,
    worthHaving: 60,
    relative: false,
    better: 'lower',
    belongs: { min: 0, max: 200 },
  },
  {
    quantity: 'fuel_full_pct',
    label: 'fuel against what was commanded',
    unit: '%',
    betweenRuns: 2,
    worthHaving: 4,
    relative: false,
    better: 'zero',
  },
  {
    quantity: 'pump_loss',
    label: 'loss on the hand pump',
    unit: 'kPa/min',
    betweenRuns: 1,
    worthHaving: 2,
    relative: false,
    better: 'lower',
  },
  {
    quantity: 'throttle_spread',
    label: 'throttle spread',
    unit: 'kPa',
    betweenRuns: 0.3,
    worthHaving: 0.7,
    relative: false,
    better: 'lower',
  },
]

/** The rule of a quantity. */
export const ruleOf = (q: ProofQuantity): ChangeRule => CHANGE_RULES.find((r) => r.quantity === q)!
