import { trimBanksOf } from '../engine/index.js'
import { bandOf } from '../expectation/index.js'
import { pointWords } from '../proof/index.js'
import { maybeChannel, type ChannelId, type OperatingPoint, type TotalTrim } from '../signals/index.js'
import { figureText, QUANTITIES } from '../units/index.js'
import { vehicleAtPlace } from './place.js'
import { lastRound, missingAgainstBaseline, manifoldKpaOf, pointsOfRound } from './points.js'
import type { VisitFile } from './records.js'

/** A figure of the warm idle, and whether it stands where it belongs. */
export interface Judged {
  readonly channel: ChannelId | TotalTrim
  /** Begins small. */
  readonly label: string
  /** Canonical unit. */
  readonly value: number
  readonly low: number
  readonly high: number
  readonly unit: string
  readonly inside: boolean
  /** "1240 rpm, where 620 to 740 belongs". */
  readonly words: string
}

/** What is judged at idle; the others have bands too wide to call a figure wrong by them. */
const JUDGED: readonly ChannelId[] = ['rpm', 'map_kpa', 'gauge_vacuum_kpa', 'battery_v']
/** Total trims are acceptable within this [%]. */
const ACCEPTABLE_PCT = 10

const decimalsOf = (unit: string): number => (unit === 'rpm' ? 0 : 1)
const show = (x: number, unit: string): string => figureText(x, decimalsOf(unit))

/** The warm idle of a round against its bands: the newest measured one when left out; empty where none is measured. */
export function judgedIdle(f: VisitFile, round = newestMeasured(f)): Judged[] {
  if (round === undefined) return []
  const idle = pointsOfRound(f, round).find((p) => p.kind === 'idle')
  if (!idle) return []
  const place = {
    vehicle: vehicleAtPlace(f),
    kind: 'idle' as const,
    rpm: idle.rpm,
    manifoldKpa: manifoldKpaOf(idle),
    ambientC: f.visit.ambientC,
  }
  const out = JUDGED.flatMap((channel): Judged[] => {
    const value = idle.means[channel]
    const band = bandOf(channel, place)
    if (value === undefined || !band) return []
    const { label, quantity } = maybeChannel(channel)!
    return [judged(channel, label, value, band.low, band.high, QUANTITIES[quantity].units[0].symbol)]
  })
  for (const bank of [1, 2] as const) {
    const value = idle.means[`trim${bank}_pct`]
    if (value === undefined) continue
    const label = trimBanksOf(f.vehicle.spec) === 2 ? `total trim, bank ${bank},` : 'total trim'
    out.push(judgedTrim(bank, label, value))
  }
  return out
}

function judged(
  channel: ChannelId | TotalTrim,
  label: string,
  value: number,
  low: number,
  high: number,
  unit: string,
): Judged {
  // as it is shown: a figure that reads as the band's end is not told to be beyond it
  const [x, least, most] = [value, low, high].map((n) => Number(n.toFixed(decimalsOf(unit))))
  const inside = x >= least && x <= most
  const belongs = `${show(low, unit)} to ${show(high, unit)}`
  const words = inside
    ? `${show(value, unit)} ${unit}, inside ${belongs}`
    : `${show(value, unit)} ${unit}, where ${belongs} belongs`
  return { channel, label, value, low, high, unit, inside, words }
}

const judgedTrim = (bank: 1 | 2, label: string, value: number): Judged =>
  judged(`trim${bank}_pct`, label, value, -ACCEPTABLE_PCT, ACCEPTABLE_PCT, '%')

const newestMeasured = (f: VisitFile): number | undefined => {
  for (let r = lastRound(f); r >= 0; r--) if (!missingAgainstBaseline(f, r).length) return r
  return undefined
}

/** Points beyond the warm idle whose trims are the engine's own. */
const AWAY_FROM_IDLE: readonly OperatingPoint['kind'][] = ['idle-load', 'hold', 'cruise', 'pull']

/** Total trims beyond idle that do not stand where they belong, in the round of the newest measured idle. */
function trimsOutside(f: VisitFile, round: number | undefined): Judged[] {
  if (round === undefined) return []
  const banks = trimBanksOf(f.vehicle.spec) === 2 ? ([1, 2] as const) : ([1] as const)
  return pointsOfRound(f, round)
    .filter((p) => AWAY_FROM_IDLE.includes(p.kind))
    .flatMap((p) =>
      banks.flatMap((bank): Judged[] => {
        const value = p.means[`trim${bank}_pct`]
        if (value === undefined) return []
        const label = ['total trim', ...(banks.length === 2 ? [`bank ${bank}`] : []), pointWords(p), '']
          .join(', ')
          .trim()
        const trim = judgedTrim(bank, label, value)
        return trim.inside ? [] : [trim]
      }),
    )
}

/** Figures of a round, of the newest measured idle's when left out, that do not stand where they belong; trims beyond idle where those at idle do: out at both they tell the same. The farthest out first. */
export function outsideOf(f: VisitFile, round = newestMeasured(f)): Judged[] {
  const idle = judgedIdle(f, round).filter((j) => !j.inside)
  const all = idle.some((j) => j.channel.startsWith('trim')) ? idle : [...idle, ...trimsOutside(f, round)]
  const farOut = (j: Judged): number => Math.max(j.low - j.value, j.value - j.high) / (j.high - j.low)
  return all.sort((x, y) => farOut(y) - farOut(x))
}
