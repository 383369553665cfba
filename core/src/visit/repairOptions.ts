import type { StationId } from '../engine/index.js'
import type { RepairKind } from './records.js'

/** One way to mend a place: what it costs, how long it lasts, under which conditions. */
export interface RepairOption {
  readonly kind: RepairKind
  readonly label: string
  readonly minutes: number
  readonly partsPrice: number
  /** Chance that it is back within three months [–]; ours, a shop's own record will replace it. */
  readonly comesBack: number
  readonly temporary: boolean
  /** Days to wait for a part: 0 when nothing is ordered; 'bus' for the next parts bus. */
  readonly wait: 'none' | 'bus'
  readonly condition: string
}

const o = (
  kind: RepairKind,
  label: string,
  minutes: number,
  partsPrice: number,
  comesBack: number,
  temporary: boolean,
  wait: 'none' | 'bus',
  condition: string,
): RepairOption => ({
  kind,
  label,
  minutes,
  partsPrice,
  comesBack,
  temporary,
  wait,
  condition,
})

const rubber: readonly RepairOption[] = [
  o('refit', 'Push on, new clamp from stock', 8, 4, 0.1, false, 'none', 'the rubber is sound and soft'),
  o(
    'wrap',
    'Wrap with self-bonding tape',
    12,
    6,
    0.4,
    true,
    'none',
    'dry, clean, stretched, half overlapped; suction side only',
  ),
  o('replace', 'New part', 30, 85, 0.03, false, 'bus', 'the right variant is to be had'),
]

const hard: readonly RepairOption[] = [
  o('refit', 'Tighten or reseat', 10, 2, 0.25, false, 'none', 'the face is flat and the seal whole'),
  o('replace', 'New gasket or part', 60, 40, 0.04, false, 'bus', 'access and fasteners allow it'),
]

/** Ways to mend by station; prices are the demo shop's list, in its own money. */
const TABLE: Partial<Record<StationId, readonly RepairOption[]>> = {
  duct: rubber,
  pcv: rubber,
  booster: rubber,
  purge: rubber,
  'vacuum-lines': [
    o('refit', 'Cut back and push on, or cap', 5, 2, 0.15, false, 'none', 'enough sound hose is left'),
    ...rubber.slice(1),
  ],
  'idle-valve': rubber,
  'boost-pipe': [rubber[0], rubber[2]],
  intercooler: hard,
  'airflow-sensor': [
    o(
      'clean',
      'Clean with its own cleaner, once',
      25,
      9,
      0.2,
      false,
      'none',
      'element untouched, fully dry before power; re-measure decides',
    ),
    o('replace', 'New sensor', 20, 190, 0.05, false, 'bus', 'cleaned once and still outside'),
  ],
  filter: [
    o('replace', 'New element', 8, 18, 0.02, false, 'none', 'in stock'),
    o('refit', 'Seat the box, shut the clips', 4, 0, 0.1, false, 'none', 'clips whole'),
  ],
}

/** Ways to mend a station, cheapest first. */
export const repairOptionsAt = (station: StationId): readonly RepairOption[] => TABLE[station] ?? hard

/** Cost of an option with its risk priced in: parts and labour now, and the chance of doing it all again. */
export function expectedCost(
  x: RepairOption,
  labourPerHour: number,
): { readonly now: number; readonly withRisk: number } {
  const now = x.partsPrice + (labourPerHour * x.minutes) / 60
  return { now, withRisk: now * (1 + x.comesBack) }
}

/** Next day on which parts arrive, after today. @param partsDays - 1 Monday to 7 Sunday @param today - yyyy-mm-dd @returns yyyy-mm-dd, or undefined without any such day */
export function nextPartsDay(partsDays: readonly number[], today: string): string | undefined {
  const from = Date.parse(`${today}T00:00:00Z`)
  for (let k = 1; k <= 7; k++) {
    const day = new Date(from + k * 86_400_000)
    if (partsDays.includes(day.getUTCDay() || 7)) return day.toISOString().slice(0, 10)
  }
  return undefined
}
