import { holeDiameterMm } from '../air/index.js'
import { hasController, hasMaf, trimBanksOf, type Vehicle } from '../engine/index.js'
import { maybeChannel } from '../signals/index.js'
import type { Interval } from '../statistics/index.js'
import { figureText } from '../units/index.js'
import { faultOf, type FaultId } from './faults.js'
import { fuelMissing, HELD_RATIO, heldBack, MOST_HELD_BACK } from './faultsBeyond.js'
import type { ObservationSet, ReadingGroup } from './observations.js'
import { intervalOf, type Posterior } from './posterior.js'
import { temperatureAt, temperatureBeyond } from './sensorObservations.js'

/** One cause with its probability and size. */
export interface Ranked {
  readonly fault: FaultId
  /** Marginal probability that it is present, alone or with another; for `none` that nothing is. */
  readonly probability: number
  readonly bank?: 1 | 2
  readonly effectiveAreaMm2?: Interval
  readonly mafErrorPct?: { readonly atIdle: Interval; readonly atHighFlow: Interval }
  /** At idle; negative is too little. */
  readonly fuelErrorPct?: Interval
  /** At full flow, where it differs. */
  readonly fuelErrorPctAtHighFlow?: Interval
  readonly sentence: string
}

/** What fuel may lack more at a held speed than at idle and still be told as lacking alike [–]. */
const KEEPS_UP = 0.04
/** Full flow takes so many times the air of an idle [–]. */
const FULL_RATIO = 20

/** Share of pressure or air beyond which no engine still pulls [%]. */
const MOST_RESTRICTED_PCT = 70

type Figures = Omit<Ranked, 'fault' | 'probability'>

/** Share of what no cause explains beyond which nothing may be concluded. */
export const MISFIT = 0.4

/** Probability below which a cause's size is not worked out: nobody asks how big what is not there would be. */
const WORTH_SIZING = 0.004

/**
 * Causes by probability, each with its sentence and, where it may be there, its size.
 * @param unmarked - causes that no reading here can show: of their size nothing is known
 */
export function rankingOf(p: Posterior, set: ObservationSet, v: Vehicle, unmarked: readonly FaultId[] = []): Ranked[] {
  return [...p.marginal]
    .map(([fault, probability]) => ({
      fault,
      probability,
      ...(fault !== 'none' && (probability < WORTH_SIZING || unmarked.includes(fault))
        ? { sentence: faultOf(fault).label }
        : figures(fault, p, set, v)),
    }))
    .sort((a, b) => b.probability - a.probability)
}

const n = (x: number, decimals = 0): string => Math.abs(x).toFixed(decimals)
/** "12 (8 to 15)", without signs. */
const span = (i: Interval, decimals = 0): string => {
  const [a, b] = [Math.abs(i.low), Math.abs(i.high)].sort((x, y) => x - y)
  return `${n(i.median, decimals)} (${a.toFixed(decimals)} to ${b.toFixed(decimals)})`
}

/** Whether not even its direction is known. */
const isEither = (i: Interval): boolean => i.low < 0 && i.high > 0
const mostOf = (i: Interval, decimals = 1): string => n(Math.max(-i.low, i.high), decimals)

/** A loss as a share that is told up to a bound [%]: beyond it no reading says how much. */
const lossUpTo = (i: Interval, most: number): string => {
  const ends = [i.low, i.median, i.high].map((x) => Math.min(most, x).toFixed(0))
  if (Math.round(i.low) >= most) return `${most} % or more`
  if (Math.round(i.median) >= most) return `${ends[0]} to ${most} % or more`
  return `about ${ends[1]} (${ends[0]} to ${ends[2]}${Math.round(i.high) >= most ? ' or more' : ''}) %`
}

/** Probability from which a cause is worth acting on without another test, and its sentence is told as a fact. */
export const SURE_ENOUGH = 0.85

/** Whether nothing that was read tells how large a cause is: its sentence is its name. */
export const isUnsized = (r: Ranked): boolean => r.fault !== 'none' && r.sentence === faultOf(r.fault).label

/** A cause's sentence as its probability allows: told as a fact where it is all but sure, and else as what would follow. */
export const supposed = (r: Ranked): string =>
  r.fault === 'none' || r.probability >= SURE_ENOUGH || isUnsized(r)
    ? r.sentence
    : `If so, ${r.sentence.charAt(0).toLowerCase()}${r.sentence.slice(1)}`

/** Less fuel missing at idle than this is what engines differ by [%]. */
const FED_AT_IDLE_PCT = 3
/** Share of full flow from which a reading tells of it. */
const FULL_FLOW = 0.5
const isFullFlowRead = (set: ObservationSet): boolean => set.contexts.some((c) => c.airKgS > FULL_FLOW * c.fullKgS)

/** What a sensor says of itself or of the air around the car. */
const OF_SENSORS: readonly ReadingGroup[] = ['barometer', 'temperature']

/**
 * Whether any reading tells one cause from another. Those of a diesel, and of throttles of each cylinder's own, are often of sensors
 * alone: they tell of an engine only where one of them is the fault.
 */
export function tellsOfAir(p: Posterior, set: ObservationSet): boolean {
  if (set.observations.some((o) => !OF_SENSORS.includes(o.group))) return true
  const sensors = (['map-sensor-offset', 'temperature-sensor-implausible'] as const).map((x) => p.marginal.get(x) ?? 0)
  return set.observations.length > 0 && Math.max(...sensors) > 0.5
}

/** Said of an engine where nothing is found; that it is sound is said only where that is likelier than everything else together. */
function soundSentence(p: Posterior, set: ObservationSet, v: Vehicle): string {
  if (!tellsOfAir(p, set))
    return set.points.length
      ? 'What was measured does not tell one cause from another.'
      : 'Nothing has been measured yet.'
  if (p.unexplained > MISFIT) return 'What was measured fits neither a sound engine nor any cause weighed here.'
  return (p.marginal.get('none') ?? 0) > 0.5
    ? `What was measured is what a sound ${v.displacementL.toFixed(1)} L engine does.`
    : 'No cause stands out from what a sound engine may show.'
}

function figures(fault: FaultId, p: Posterior, set: ObservationSet, v: Vehicle): Figures {
  const of = (get: (x: readonly number[]) => number): Interval | undefined => intervalOf(p, fault, get)
  const first = of((x) => x[0])
  const label = { sentence: faultOf(fault).label }
  // a cause that may sit on one bank or on both has its side in one of its figures
  const bankBy = (at: number): 1 | 2 | undefined => {
    const side = of((x) => x[at])?.median ?? 0
    return trimBanksOf(v) !== 2 || Math.abs(side) < 0.5 ? undefined : side > 0 ? 1 : 2
  }
  const sized = (bank: 1 | 2 | undefined, sentence: string): Figures => ({ ...(bank ? { bank } : {}), sentence })
  if (fault === 'none')
    return {
      sentence: soundSentence(p, set, v),
    }
  if (!first) return label
  const pct: Interval = { median: 100 * first.median, low: 100 * first.low, high: 100 * first.high }
  switch (fault) {
    case 'temperature-sensor-implausible': {
      const p = set.points[temperatureAt(set.points)]
      const beyond = temperatureBeyond(p)
      return beyond
        ? {
            sentence: `The ${maybeChannel(beyond.channel)!.label} temperature reads ${figureText(p.means[beyond.channel]!, 0)} °C${p.kind === 'key-on' ? ' with the engine off' : ''}, which no car shows.`,
          }
        : label
    }
    case 'unmetered-air':
    case 'unmetered-air-bank': {
      // temperature and pressure at the opening are those of the manifold to about a tenth of the flow; where pressure meters
      // the air, its amount is known no better than the engine's breathing
      const width = hasMaf(v) ? 0.13 : 0.28
      const area = intervalOf(
        p,
        fault,
        (x) => x[0],
        (x) => width * x[0],
      )!
      const bank = fault === 'unmetered-air-bank' ? ((of((x) => x[1])?.median ?? 0) >= 0 ? 1 : 2) : undefined
      return { ...(bank ? { bank } : {}), effectiveAreaMm2: area, sentence: leakSentence(area, bank) }
    }
    case 'unmetered-air-duct':
      // of what is metered it is more
      return {
        sentence: `About ${span(of((x) => (100 * x[0]) / (1 + x[0]))!)} % of the air comes in between sensor and plate; the share does not fade with flow.`,
      }
    case 'pcv-stuck-open': {
      // its air is metered: how much of it there is too much is known no better than what the engine needs
      const area = intervalOf(
        p,
        fault,
        (x) => x[0],
        (x) => 0.28 * x[0],
      )!
      return {
        effectiveAreaMm2: area,
        sentence: `The crankcase vent passes ${span(area, 1)} mm² too much: metered air past the plate, so the idle opening falls and the trims hardly move.`,
      }
    }
    case 'purge-stuck-open': {
      // what is known of a loaded canister is the fuel it gives, not in how much air; of an empty one as of any other leak
      const area = intervalOf(
        p,
        fault,
        (x) => x[0],
        (x) => (x[1] > 0 ? 0.35 : 0.13) * x[0],
      )!
      return {
        effectiveAreaMm2: area,
        sentence: purgeSentence(
          area,
          of((x) => x[1])!,
          v,
        ),
      }
    }
    case 'boost-leak':
      return { sentence: `About ${span(pct)} % of the metered air is lost under boost.` }
    case 'maf-under-reads':
    case 'maf-over-reads': {
      // errors at high flow are a grid of steps of 28 %, those at idle shares of them a fifth or so apart
      const atHighFlow = intervalOf(
        p,
        fault,
        (x) => 100 * x[1],
        (x) => 12 * Math.abs(x[1]),
      )!
      const atIdle = intervalOf(
        p,
        fault,
        (x) => 100 * x[0],
        (x) => 9 * (Math.abs(x[0]) + Math.abs(x[1])),
      )!
      const word = fault === 'maf-under-reads' ? 'low' : 'high'
      return {
        mafErrorPct: { atIdle, atHighFlow },
        sentence: `The airflow sensor ${
          isEither(atIdle)
            ? `is right at idle to within ${mostOf(atIdle, 0)} %, and reads about`
            : `reads about ${span(atIdle)} % ${atIdle.median < 0 ? 'low' : 'high'} at idle and`
        } ${span(atHighFlow)} % ${word} at high flow.`,
      }
    }
    case 'fuel-delivery-low':
    case 'fuel-delivery-high': {
      const low = fault === 'fuel-delivery-low'
      const high = of((x) => 100 * (low ? fuelMissing(x, FULL_RATIO, 1) : x[0] / FULL_RATIO ** x[1]))!
      if (low && (of((x) => x[2])?.median ?? 0) > KEEPS_UP) {
        const [idle, held] = [1, HELD_RATIO].map((ratio) => of((x) => 100 * fuelMissing(x, ratio, 0))!)
        return {
          fuelErrorPct: idle,
          fuelErrorPctAtHighFlow: high,
          sentence: `Fuel does not keep up with the flow, about ${n(idle.median)} % too little at idle and ${span(held)} % at a held speed or under way: fuel, and not air.`,
        }
      }
      // of too little fuel the third figure is no side
      const bank = low ? undefined : bankBy(2)
      if (low && Math.abs(pct.median) < FED_AT_IDLE_PCT)
        return {
          fuelErrorPct: pct,
          fuelErrorPctAtHighFlow: high,
          sentence: `Fuel enough at idle, and about ${span(high)} % too little at full flow: fuel, and not air.`,
        }
      return {
        ...(bank ? { bank } : {}),
        fuelErrorPct: pct,
        ...(Math.abs(high.median - pct.median) > 1 ? { fuelErrorPctAtHighFlow: high } : {}),
        sentence: `About ${span(pct)} % too ${low ? 'little' : 'much'} fuel ${bank ? `on bank ${bank} ` : ''}at idle${
          Math.abs(high.median - pct.median) > 2 && isFullFlowRead(set) ? `, ${span(high)} % at full flow` : ''
        }: fuel, and not air${bank ? '; pressure would make both banks rich, an injector that drips its own' : ''}.`,
      }
    }
    case 'map-sensor-offset': {
      // of a pressure that meters the air what the engine breathes at it is known to a tenth or so
      const kpa = intervalOf(
        p,
        fault,
        (x) => x[0] / 1000,
        (x) => 0.12 * Math.abs(x[0] / 1000),
      )!
      return {
        sentence: isEither(kpa)
          ? `The manifold pressure sensor reads up to ${mostOf(kpa)} kPa too high or too low.`
          : `The manifold pressure sensor reads about ${span(kpa, 1)} kPa too ${kpa.median > 0 ? 'high' : 'low'}.`,
      }
    }
    case 'throttle-deposits':
      return { sentence: `Deposits have closed about ${span(pct)} % of the idle opening.` }
    case 'idle-learnt-past':
      return {
        sentence:
          'Idle control opens further than its opening now needs: learnt to one that has changed, or held open.',
      }
    case 'pcv-blocked':
      return { sentence: `The vent no longer brings its part of the idle air, about ${span(pct)} %.` }
    case 'idle-valve-stuck': {
      // of a valve that passes less, what it would be if it passed more is no part of its size
      const isMore = first.median > 1
      const passes = of((x) => (x[0] > 1 === isMore ? 100 * x[0] : NaN))!
      return {
        sentence: `The idle valve passes ${isMore ? 'more' : 'less'} than the idle needs, about ${span(passes)} % of it, and does not follow.`,
      }
    }
    case 'intake-restriction':
      return {
        sentence: `${v.fuel === 'diesel' ? 'Filter, inlet or soot in manifold and ports' : 'Filter, inlet or manifold'} take ${lossUpTo(
          of((x) => 100 * x[0])!,
          MOST_RESTRICTED_PCT,
        )} of the pressure at full flow; idle does not feel it.`,
      }
    case 'egr-open-at-idle': {
      // how hot the gas is that comes through it nobody reads, and what it slows the burning by is weighed in two steps
      const area = intervalOf(
        p,
        fault,
        (x) => x[0],
        (x) => 0.25 * x[0],
      )!
      return {
        effectiveAreaMm2: area,
        sentence: `Exhaust gas leaks into the manifold at idle through about ${span(area, 1)} mm².`,
      }
    }
    case 'valve-deposits':
      return { sentence: `Breathing lost at full flow: about ${span(pct)} %; cold stumble goes with it.` }
    case 'runner-restriction': {
      const bank = bankBy(1)
      return sized(bank, `One runner${bank ? ` of bank ${bank}` : ''} has lost about ${span(pct)} % of its air.`)
    }
    case 'oxygen-sensor-biased': {
      const bank = bankBy(1)
      const who = `The oxygen sensor${bank ? ` of bank ${bank}` : ''} settles the mixture`
      return sized(
        bank,
        isEither(pct)
          ? `${who} up to ${mostOf(pct)} % rich or lean of where it should.`
          : `${who} about ${span(pct, 1)} % ${pct.median > 0 ? 'rich' : 'lean'} of where it should.`,
      )
    }
    case 'oxygen-sensors-crossed': {
      const lean = (of((x) => x[1])?.median ?? 0) >= 0 ? 1 : 2
      return {
        sentence: `Each bank is corrected by the other’s sensor: bank ${lean} is given more and more fuel and bank ${3 - lean} less and less, as far as the trims go.`,
      }
    }
    case 'exhaust-leak': {
      const bank = bankBy(2)
      return sized(
        bank,
        `Air drawn in ahead of the oxygen sensor${bank ? ` of bank ${bank}` : ''} reads as ${span(pct)} % lean at idle; the engine does not breathe it.`,
      )
    }
    case 'exhaust-restriction': {
      const bank = bankBy(1)
      const isTurbo = v.induction === 'turbo'
      const held = of((x) => 100 * heldBack(x, isTurbo))!
      // what a turbine gives back bounds the share before the exhaust does
      const isAtEnd = first.high >= MOST_HELD_BACK
      const most = isTurbo ? (isAtEnd ? Math.round(held.high) : Infinity) : 100 * MOST_HELD_BACK
      return sized(
        bank,
        `The exhaust${bank ? ` of bank ${bank}` : ''} holds back ${lossUpTo(held, most)} of ${bank ? 'its' : 'the'} air at full flow.`,
      )
    }
    case 'valve-timing-late': {
      const bank = bankBy(1)
      return sized(
        bank,
        `Late valves${bank ? ` on bank ${bank}` : ''} push back about ${span(pct)} % of the charge at low speed.`,
      )
    }
    case 'weak-cylinder':
      return { sentence: `One cylinder gives about ${span(pct)} % less than the others.` }
    case 'ignition-misfire':
      return {
        // on one bank too little fuel is not looked for apart
        sentence: `One cylinder misses about ${span(pct)} % of its cycles${hasController(v) ? '; its oxygen reads as lean' : ''}.${trimBanksOf(v) === 2 ? ' An injector that gives its cylinder too little looks the same.' : ''}`,
      }
    default:
      // nothing of it has a size
      return label
  }
}

/**
 * Vapour by mass beyond which what a purge valve lets in is rich, and below which it is lean: past a sensor that meters air, 0.065
 * balances it; where pressure meters the air, every vapour is too much [–].
 */
const VAPOUR_TOLD = { pastSensor: { rich: 0.08, lean: 0.05 }, byPressure: { rich: 0.01, lean: 0.01 } } as const

function purgeSentence(area: Interval, vapour: Interval, v: Vehicle): string {
  const { rich, lean } = hasMaf(v) ? VAPOUR_TOLD.pastSensor : VAPOUR_TOLD.byPressure
  const told =
    vapour.median > rich
      ? 'with a loaded canister: rich'
      : vapour.median > lean
        ? 'its vapour about what its air wants: more air than is metered, and no trim that tells of it'
        : `with an empty canister: ${hasMaf(v) ? 'lean' : 'air that the pressure meters'}`
  return `The purge valve stands open by about ${span(area, 1)} mm², ${told}.`
}

function leakSentence(area: Interval, bank: 1 | 2 | undefined): string {
  const d = (x: number): string => holeDiameterMm(x).toFixed(1)
  return `Air comes in behind the throttle${bank ? `, mostly on bank ${bank}` : ''}: ${area.median.toFixed(1)} mm² effective, like a sharp-edged hole of ${d(area.median)} mm (${d(area.low)} to ${d(area.high)} mm).`
}
