import { NEEDLES } from '../diagnosis/index.js'
import {
  adjustersOf,
  judgeDrops,
  type DropJudged,
  PUMP_PARTS,
  spreadOf,
  throttleAdvice,
  type ThrottleLayoutId,
} from '../vacuum/index.js'
import { idleSamplesProblem } from '../procedures/index.js'
import type { BalanceRecord, DropTaken, PumpTaken, ThrottlesTaken, WaveTaken } from './balanceRecords.js'

const number = (x: unknown, low: number, high: number): x is number => typeof x === 'number' && x >= low && x <= high
const object = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x)

/** A balance is a few dozen figures; more is no balance. */
const MOST_BYTES = 40_000

/** What is wrong with a balance that somebody sends, in words; undefined when nothing is. */
export function takenProblem(input: unknown): string | undefined {
  if (!object(input)) return 'taken must be one object with its kind: wave, throttles, drop, needle, pump or settle'
  if (JSON.stringify(input).length > MOST_BYTES) return `taken must be at most ${MOST_BYTES} characters of JSON`
  switch (input.kind) {
    case 'wave':
      return waveProblem(input as unknown as WaveTaken)
    case 'throttles':
      return throttlesProblem(input as unknown as ThrottlesTaken)
    case 'needle':
      return NEEDLES.some((n) => n.id === input.needle)
        ? undefined
        : `taken.needle must be one of: ${NEEDLES.map((n) => n.id).join(', ')}`
    case 'pump':
      return pumpProblem(input as unknown as PumpTaken)
    case 'drop':
      return dropProblem(input as unknown as DropTaken)
    case 'settle':
      return typeof input.beganAt !== 'string' || Number.isNaN(Date.parse(input.beganAt))
        ? 'taken.beganAt must be a moment, ISO 8601'
        : idleSamplesProblem(input.samples)
    default:
      return 'taken.kind must be one of: wave, throttles, drop, needle, pump, settle'
  }
}

function waveProblem(t: WaveTaken): string | undefined {
  if (typeof t.name !== 'string' || t.name.length > 200) return 'taken.name must be a text of at most 200 characters'
  if (!['intake', 'exhaust'].includes(t.side)) return 'taken.side must be one of: intake, exhaust'
  const b = t.balance as unknown
  const interval = (x: unknown): boolean => object(x) && ['median', 'low', 'high'].every((k) => number(x[k], -1e6, 1e6))
  if (!object(b) || !interval(b.rpm) || !number(b.cycles, 1, 1e6)) return 'taken.balance must hold rpm and cycles'
  if (!Array.isArray(b.cylinders) || !(b.cylinders.length >= 2 && b.cylinders.length <= 16))
    return 'taken.balance.cylinders must be 2 to 16 of them'
  if (!b.cylinders.every((c: unknown) => object(c) && interval(c.pullPct)))
    return 'taken.balance.cylinders must each have pullPct'
  if (b.odd !== null && !(object(b.odd) && number(b.odd.probability, 0, 1)))
    return 'taken.balance.odd must be null or have a probability of 0 to 1'
  return Array.isArray(b.orders) && Array.isArray(b.meanCycle) && Array.isArray(b.warnings)
    ? undefined
    : 'taken.balance must hold orders, meanCycle and warnings'
}

function throttlesProblem(t: ThrottlesTaken): string | undefined {
  if (!['idle', 'hold-2500'].includes(t.slot)) return 'taken.slot must be one of: idle, hold-2500'
  if (!(['each', 'pairs'] as ThrottleLayoutId[]).includes(t.layout)) return 'taken.layout must be one of: each, pairs'
  const row = t.vacuumKpa as unknown
  if (!Array.isArray(row) || !(row.length >= 2 && row.length <= 12) || !row.every((x) => number(x, 0, 105)))
    return 'taken.vacuumKpa must be 2 to 12 vacuums of 0 to 105 kPa'
  if (t.practice !== undefined && typeof t.practice !== 'boolean')
    return 'taken.practice must be true, false or left out'
  if (t.layout === 'pairs' && row.length !== 4) return 'taken.layout pairs goes with 4 throttles'
  if (t.turned === undefined) return undefined
  if (!object(t.turned) || !adjustersOf(t.layout, row.length).some((a) => a.id === t.turned!.adjuster))
    return 'taken.turned.adjuster must be one of this layout'
  return number(t.turned.turns, -10, 10) ? undefined : 'taken.turned.turns must be −10 to 10'
}

function pumpProblem(t: PumpTaken): string | undefined {
  if (!PUMP_PARTS.some((p) => p.id === t.part))
    return `taken.part must be one of: ${PUMP_PARTS.map((p) => p.id).join(', ')}`
  const rows = t.samples as unknown
  if (!Array.isArray(rows) || !(rows.length >= 2 && rows.length <= 60)) return 'taken.samples must be 2 to 60 of them'
  const rises = rows.every(
    (s: unknown, i) =>
      object(s) && number(s.t, 0, 3600) && number(s.kpa, 0, 105) && (!i || s.t > (rows[i - 1] as { t: number }).t),
  )
  return rises ? undefined : 'taken.samples must each have t in s, rising, and kpa of 0 to 105'
}

function dropProblem(t: DropTaken): string | undefined {
  if (!(Number.isInteger(t.cylinder) && number(t.cylinder, 1, 16)))
    return 'taken.cylinder must be a whole number 1 to 16'
  if (!number(t.rpmDrop, -50, 1500)) return 'taken.rpmDrop must be −50 to 1500 rpm'
  if (t.vacuumDropKpa !== undefined && !number(t.vacuumDropKpa, -20, 60))
    return 'taken.vacuumDropKpa must be −20 to 60 kPa'
  return undefined
}

/** Balances of one kind, oldest first. */
export const takenOf = <K extends BalanceRecord['taken']['kind']>(
  balances: readonly BalanceRecord[],
  kind: K,
): (BalanceRecord & { readonly taken: Extract<BalanceRecord['taken'], { kind: K }> })[] =>
  balances
    .filter((b) => !b.deleted && b.taken.kind === kind)
    .sort((a, b) => a.at.localeCompare(b.at)) as (BalanceRecord & {
    readonly taken: Extract<BalanceRecord['taken'], { kind: K }>
  })[]

/** True when the newest row at 2500 is within its limit: only then may the bypass screws be turned. */
export function linkageBalanced(balances: readonly BalanceRecord[]): boolean {
  const last = takenOf(balances, 'throttles')
    .filter((b) => b.taken.slot === 'hold-2500')
    .at(-1)
  return last !== undefined && throttleAdvice(last.taken.layout, [last.taken]).balanced
}

/** How far apart a visit left its throttles, at each speed at which they were read; simulated ones are none of a car's. */
export const spreadsLeft = (
  balances: readonly BalanceRecord[],
): { readonly slot: ThrottlesTaken['slot']; readonly spreadKpa: number }[] =>
  (['idle', 'hold-2500'] as const).flatMap((slot) => {
    const last = takenOf(balances, 'throttles')
      .filter((b) => b.taken.slot === slot && !b.taken.practice)
      .at(-1)
    return last ? [{ slot, spreadKpa: spreadOf(last.taken.vacuumKpa) }] : []
  })

/** How far the throttles of the newest row are apart; undefined where none is read, or they pull alike. */
export function throttlesUnlike(balances: readonly BalanceRecord[]): string | undefined {
  const rows = takenOf(balances, 'throttles')
  const last = rows.at(-1)?.taken
  if (!last) return undefined
  const like = rows.filter((r) => r.taken.slot === last.slot && r.taken.layout === last.layout)
  const advice = throttleAdvice(
    last.layout,
    like.filter((r) => r.taken.vacuumKpa.length === last.vacuumKpa.length).map((r) => r.taken),
  )
  return advice.balanced
    ? undefined
    : `They differ by ${advice.spreadKpa.toFixed(1)} kPa, ${advice.limitKpa.toFixed(1)} is allowed.`
}

/** Cylinders compared by their drops of the newest round that has any. */
export function dropsOf(balances: readonly BalanceRecord[]): {
  readonly round: number
  readonly judged: readonly DropJudged[]
} {
  const drops = takenOf(balances, 'drop')
  const round = Math.max(0, ...drops.map((d) => d.round))
  return { round, judged: judgeDrops(drops.filter((d) => d.round === round).map((d) => d.taken)) }
}

/** Whether one cylinder differs from the others by the newest waveform, or does less by its drops of the newest round. */
export function cylinderUnlike(balances: readonly BalanceRecord[]): boolean {
  return takenOf(balances, 'wave').at(-1)?.taken.balance.odd != null || dropsOf(balances).judged.some((j) => j.weak)
}
