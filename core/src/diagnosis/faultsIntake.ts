import { hasController, hasMaf, hasMap, trimBanksOf, hasIdleValve } from '../engine/index.js'
import { STEADY } from '../signals/index.js'
import type { PointContext } from './effect.js'
import { cross, flowRatio, flowShare, gasoline, logGrid, signed, trimmed, type Fault } from './faultKit.js'

/** Error that goes from its idle to its high-flow figure with a flow constant of `reach` idle flows. */
const blend = (atIdle: number, atHigh: number, reach: number, c: PointContext): number => {
  const x = Math.max(0, c.airKgS - c.idleKgS) / (reach * c.idleKgS)
  return atIdle + (atHigh - atIdle) * (1 - Math.exp(-x))
}

/** Errors of a sensor: at high flow, at idle as a share of that, and how soon it goes from one to the other. */
const mafGrid = (atHigh: readonly number[], shares: readonly number[]): number[][] =>
  cross(atHigh, shares, [1.2, 3.5, 12]).map(([high, share, reach]) => [share * high, high, reach])

/** The same shares in steps that a recording can tell [–]. */
const EVEN_SHARES = Array.from({ length: 12 }, (_, i) => -0.1 + 0.1 * i)

/** Errors of a sensor that reads low, up to `most` [–]. */
const lowGrid = (most: number, steps: number, finer = 1): number[][] =>
  mafGrid(signed(-1, logGrid(0.04, most, steps * finer)), finer > 1 ? EVEN_SHARES : [-0.1, 0.1, 0.3, 0.55, 0.8, 1])

/** The same of one that reads high. */
const highGrid = (most: number, steps: number, finer = 1): number[][] =>
  mafGrid(logGrid(0.04, most, steps * finer), [0, 0.2, 0.4, 0.7, 1, 1.15])

/** Offsets of a pressure sensor either way, its barometer off with it or not. */
const offGrid = (kpa: readonly number[]): number[][] => cross([...signed(-1000, kpa), ...signed(1000, kpa)], [0, 1])

/** Stoichiometric air per fuel, gasoline [–]. */
const AFR = 14.5

/** Vapour of a canister by mass [–]. */
const VAPOURS = { few: [0.03, 0.06, 0.11, 0.22], many: logGrid(0.018, 0.36, 9) } as const
/**
 * The same where a sensor meters the air and the purge goes past it: vapour of 0.065 balances its air and moves no trim, and any engine
 * that breathes a little less looks alike. Those about that balance are of a valve that lets more in than engines differ by.
 */
const PAST_SENSOR = { few: [0.03, 0.09, 0.22], many: VAPOURS.many.filter((x) => x < 0.045 || x > 0.09) } as const
const BALANCING = [0.038, 0.052, 0.065, 0.078]

/** Vapour over the fuel that is wanted [–], beyond which no engine runs. */
const MOST_VAPOUR = 1.2

/** Which temperature sensor it is, and how. */
const INTAKE_OPEN = 0
const INTAKE_SHORTED = 1
const COOLANT = 2
/** What a sensor reads that is open, and one that is shorted, where nobody read it [°C]: the ends of the scale of SAE J1979, or near them. */
const OPEN_C = -40
const SHORTED_C = 140

/** How much more fuel, and how much faster an idle, a controller may give that takes the engine for frozen [log]; ours. */
const COLD_FUEL = 0.3
const COLD_IDLE = 0.45

/** What the fault is charged with when the temperature of its sensor is plausible [log of kelvin]: two and a half standard deviations. */
const PLAUSIBLE_ALL_THE_SAME = 0.05

/** How far one bank draws more follows its isolation, not the place [–]. */
const SKEWS = [-0.95, -0.75, -0.5, -0.3, 0.3, 0.5, 0.75, 0.95]

/** Air that passes an area behind the plate [kg/s]. @param mm2 - effective area */
const through = (mm2: number, c: PointContext): number => mm2 * 1e-6 * c.fluxBehindPlate

/**
 * Faults along the intake path. Ranges go from just above healthy tolerance (±3 % airflow, ±1 kPa) to the worst a car still
 * drives in with; areas per litre swept, since a small engine stalls on a small hole.
 */
export const INTAKE_FAULTS: readonly Fault[] = [
  {
    id: 'unmetered-air',
    label: 'Air let in behind the throttle',
    weight: 1,
    admissible: gasoline,
    // fuelled by pressure an engine idles fast on a hole that drives the trims of one which meters its air to their stop
    grid: (v, finer = 1) => cross(logGrid(0.15 * v.displacementL, (hasMaf(v) ? 7 : 20) * v.displacementL, 64 * finer)),
    gridAtStop: (v, finer = 1) =>
      hasMaf(v)
        ? cross([
            ...logGrid(0.15 * v.displacementL, 7 * v.displacementL, 64 * finer),
            ...logGrid(7 * v.displacementL, 20 * v.displacementL, 8 * finer),
          ])
        : cross(logGrid(0.15 * v.displacementL, 20 * v.displacementL, 64 * finer)),
    effect: ([mm2], c) => ({ leakKgS: through(mm2, c) }),
  },
  {
    id: 'unmetered-air-bank',
    label: 'Air let in on one bank',
    weight: 1,
    admissible: (v) => trimmed(v) && hasMaf(v) && trimBanksOf(v) === 2,
    grid: (v, finer = 1) => cross(logGrid(0.15 * v.displacementL, 4 * v.displacementL, 20 * finer), SKEWS),
    gridAtStop: (v, finer = 1) =>
      cross(
        [
          ...logGrid(0.15 * v.displacementL, 4 * v.displacementL, 20 * finer),
          ...logGrid(4 * v.displacementL, 14 * v.displacementL, 7 * finer),
        ],
        SKEWS,
      ),
    effect: ([mm2, skew], c) => ({ leakKgS: through(mm2, c), bankSkew: skew }),
  },
  {
    id: 'unmetered-air-duct',
    label: 'Split or loose duct after the sensor',
    weight: 1,
    admissible: (v) => gasoline(v) && hasMaf(v),
    // the share hardly fades: depression follows flow squared; engine movement may open it further with load
    grid: (_, finer = 1) => cross(logGrid(0.03, 0.5, 14 * finer), [0, 0.15, 0.3]),
    gridAtStop: (_, finer = 1) => cross(logGrid(0.03, 1.2, 18 * finer), [0, 0.15, 0.3]),
    effect: ([share, growth], c) => ({ ductShare: share * (c.airKgS / c.idleKgS) ** growth }),
  },
  {
    id: 'pcv-stuck-open',
    label: 'Crankcase vent stuck open',
    // one valve, and seldom stuck this way
    weight: 0.25,
    admissible: (v) => gasoline(v) && v.idleControl !== 'none',
    // the vent's own orifice bounds it; the crankcase is sealed, so that its air is metered
    grid: (v, finer = 1) => cross(logGrid(0.4 * v.displacementL, 3.5 * v.displacementL, 10 * finer)),
    // a diaphragm that is torn passes more than a shut plate leaves room for
    gridHigh: (v, finer = 1) => cross(logGrid(0.4 * v.displacementL, 9 * v.displacementL, 14 * finer)),
    effect: ([mm2], c) => ({ spareKgS: through(mm2, c) }),
  },
  {
    id: 'purge-stuck-open',
    label: 'Purge valve stuck open',
    weight: 0.3,
    admissible: (v) => trimmed(v) && v.purge !== false,
    // vapour share by mass: an empty canister gives air, a loaded one fuel
    grid: (v, finer = 1) => {
      const to = (most: number, n: number, least = 0.3): number[] =>
        logGrid(least * v.displacementL, most * v.displacementL, n * finer)
      const many = finer > 1 ? 'many' : 'few'
      return [
        ...cross(to(4, 40), [0]),
        ...(hasMaf(v)
          ? [...cross(to(2.5, 7), PAST_SENSOR[many]), ...cross(to(4, 6, 1.2), BALANCING)]
          : cross(to(4, 8), VAPOURS[many])),
      ]
    },
    effect: ([mm2, vapour], c) => {
      const kgS = through(mm2, c)
      return {
        leakKgS: kgS * (1 - vapour),
        mixtureLog: -Math.log1p(Math.min(MOST_VAPOUR, (AFR * vapour * kgS) / c.airKgS)),
        wander: vapour,
      }
    },
  },
  {
    id: 'boost-leak',
    label: 'Boost pipe leaks',
    weight: 0.6,
    admissible: (v) => v.induction === 'turbo',
    // metered air is lost where the pipe stands above ambient: under boost, and by some share already at road load
    grid: () => cross(logGrid(0.03, 0.4, 8), [0, 0.5, 1]),
    gridBeyond: () => cross(logGrid(0.03, 0.7, 10), [0, 0.5, 1]),
    effect: ([share, early], c) =>
      c.boost > 1
        ? { lostAirShare: share, upstreamLog: -0.5 * share }
        : { lostAirShare: early * share * Math.min(1, Math.max(0, (flowRatio(c) - 3) / 3)) },
  },
  {
    id: 'maf-under-reads',
    label: 'Airflow sensor reads low',
    weight: 1,
    admissible: hasMaf,
    grid: (_, finer) => lowGrid(0.46, 10, finer),
    gridAtStop: (_, finer) => lowGrid(0.7, 12, finer),
    gridBeyond: (_, finer) => lowGrid(0.7, 12, finer),
    effect: ([atIdle, atHigh, reach], c) => ({ mafError: blend(atIdle, atHigh, reach, c) }),
  },
  {
    id: 'maf-over-reads',
    label: 'Airflow sensor reads high',
    weight: 1,
    admissible: hasMaf,
    grid: (_, finer) => highGrid(0.36, 9, finer),
    gridAtStop: (_, finer) => highGrid(0.8, 12, finer),
    gridBeyond: (_, finer) => highGrid(0.8, 12, finer),
    effect: ([atIdle, atHigh, reach], c) => ({ mafError: blend(atIdle, atHigh, reach, c) }),
  },
  {
    id: 'map-sensor-offset',
    label: 'Manifold pressure sensor off its zero',
    weight: 1,
    admissible: hasMap,
    // the reported barometer may be this sensor's own value at key-on
    grid: (_, finer = 1) => offGrid(logGrid(1.2, 12, 12 * finer)),
    gridBeyond: (_, finer = 1) => offGrid([...logGrid(1.2, 12, 12 * finer), ...logGrid(12, 40, 8 * finer)]),
    effect: ([pa, shared]) => ({ mapOffsetPa: pa, baroShare: shared * pa }),
  },
  {
    id: 'temperature-sensor-implausible',
    label: 'Intake or coolant temperature not to be believed',
    weight: 0.4,
    admissible: hasController,
    // a controller takes a default, mostly, or the reading as it is; a warm engine that is taken for a frozen one is fed and held faster;
    // it is the sensor of the intake, open or shorted, or the coolant's, alone or with the other
    grid: () => [
      ...cross([0, 0, 0, 0.5, 1], [0], [INTAKE_OPEN, INTAKE_SHORTED]),
      ...cross([0, 1], [0, 0, 0, 0.5, 1], [COOLANT]),
    ],
    effect: ([taken, frozen, which], c) => {
      const isCoolant = which === COOLANT
      const unread = isCoolant ? 25 : which === INTAKE_OPEN ? OPEN_C : SHORTED_C
      const read = c.readIntakeC ?? unread
      const cold = (c.readCoolantC ?? OPEN_C) < STEADY.coolantC.low ? frozen : 0
      const density = read < STEADY.intakeC.low || read > STEADY.intakeC.high ? taken * Math.log((read + 273) / 300) : 0
      // the fault is known by a reading that no car shows; a plausible one speaks against it, and says nothing of the other sensor
      return {
        densityLog: density,
        temperatureLog: c.temperatureOff || (c.temperaturesRead[isCoolant ? 1 : 0] ? PLAUSIBLE_ALL_THE_SAME : 0),
        mixtureLog: -COLD_FUEL * cold,
        speedLog: COLD_IDLE * cold,
      }
    },
  },
  {
    id: 'throttle-deposits',
    label: 'Deposits in the throttle or idle passage',
    weight: 1,
    admissible: (v) => gasoline(v) && v.idleControl !== 'none',
    grid: () => logGrid(0.12, 0.88, 16).map((x) => [x]),
    effect: ([share]) => ({ lostShare: share }),
  },
  {
    id: 'idle-learnt-past',
    label: 'Idle control opens too far',
    // after the opening was cleaned it is what a high idle most often is
    weight: 1.5,
    afterWork: true,
    admissible: (v) => gasoline(v) && (v.idleControl === 'electronic-throttle' || v.idleControl === 'idle-valve'),
    // the share of the opening that it still allows for; how much of the air too much is burnt late and how much lifts the speed
    grid: () => cross(logGrid(0.12, 0.7, 10), [0.1, 0.25, 0.4, 0.6]),
    effect: ([share, late], c) => {
      if (!c.idles) return {}
      const air = -Math.log(1 - share)
      // the air passes where it is meant to: metered, and as the opening offers it
      return { speedLog: 0.8 * (1 - late) * air, airNeed: late * air }
    },
  },
  {
    id: 'idle-valve-stuck',
    label: 'Idle valve sticks',
    weight: 0.5,
    admissible: hasIdleValve,
    // where it stands against what the idle needs; whether its command stays, has been driven to the end, or tells where it stands;
    // how much of the air above the need is burnt late and how much lifts the speed
    grid: () => cross([0.45, 0.6, 0.75, 0.88, 1.15, 1.35, 1.7, 2.2, 2.8], [0, 1, 2], [0.12, 0.3, 0.6, 0.9]),
    effect: ([stands, told, late], c) => {
      if (!c.idles) return {}
      const air = Math.log(stands)
      return {
        speedLog: air > 0 ? 0.95 * (1 - late) * air : 0.55 * air,
        airNeed: air > 0 ? late * air : 0,
        dutyLog: [0, air < 0 ? 0.9 : -1.2, 0.9 * air][told],
        wander: 0.3,
      }
    },
  },
  {
    id: 'intake-restriction',
    label: 'Filter, inlet or manifold blocked',
    weight: 1,
    admissible: () => true,
    // loss of pressure at full flow, were it to flow; goes with flow squared, so that idle does not feel it. Soot of a diesel sits in
    // its manifold and ports, behind the pressure sensor too: what it loses there no pressure tells
    grid: (v) => cross(logGrid(0.03, 12, 30), v.fuel === 'diesel' ? [0, 1] : [0]),
    effect: ([share, behind], c) => {
      const lost = Math.log(1 - Math.min(0.6, share * flowShare(c) ** 2))
      return behind ? { veLog: lost } : { upstreamLog: lost }
    },
  },
  {
    id: 'egr-open-at-idle',
    label: 'EGR valve leaks at idle',
    weight: 1,
    admissible: (v) => hasController(v) && v.egr === 'valve',
    // a diluted charge burns slower: more of it for the same work; one that burns well all the same only pumps less
    grid: (v) => cross(logGrid(0.35 * v.displacementL, 8 * v.displacementL, 14), [0.8, -0.3]),
    // hot exhaust of 600 K behind a cooler to 800 without one: the same area passes about 0.65 of the mass of cold air
    effect: ([mm2, need], c) => {
      const inert = 0.65 * through(mm2, c)
      const share = inert / (c.airKgS + inert)
      // what burns slowly has no two cycles alike
      return { inertKgS: inert, airNeed: need * share, wander: need > 0 ? Math.log1p(share / 0.08) : 0 }
    },
  },
  {
    id: 'egr-no-flow',
    label: 'EGR does not flow',
    // found by its own monitor: a warm idle without it looks as it should
    weight: 0.4,
    admissible: (v) => v.egr === 'valve',
    grid: () => [[0]],
    effect: () => ({}),
  },
  {
    id: 'pcv-blocked',
    label: 'Crankcase vent blocked',
    weight: 0.4,
    admissible: (v) => gasoline(v) && v.idleControl !== 'none',
    // the vent's part of the idle air must come past the plate
    grid: () => logGrid(0.08, 0.3, 6).map((x) => [x]),
    effect: ([share]) => ({ lostShare: share }),
  },
  {
    id: 'valve-deposits',
    label: 'Deposits on the intake valves',
    weight: 0.4,
    admissible: gasoline,
    grid: () => logGrid(0.02, 0.25, 6).map((x) => [x]),
    effect: ([loss], c) => ({ veLog: Math.log(1 - loss * flowShare(c)), wander: 2 * loss }),
  },
  {
    id: 'runner-restriction',
    label: 'One runner narrowed',
    weight: 0.3,
    admissible: () => true,
    // metered air is shared out alike: the bank of that cylinder runs rich, the other lean
    grid: (v) => cross(logGrid(0.1, 0.7, 6), trimBanksOf(v) === 2 ? [1, -1] : [0]),
    effect: ([loss, side], c) => ({
      veLog: Math.log(1 - (loss * Math.min(1, 0.3 + flowShare(c))) / c.cylinders),
      mixtureSkew: (-side * loss * Math.min(1, 0.3 + flowShare(c))) / c.cylinders,
      wander: loss,
      airNeed: (0.15 * loss) / c.cylinders,
    }),
  },
]
