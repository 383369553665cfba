import { DOUBLED, type StationId } from './stationIds.js'

/** What is looked at, tried and known at a station; data, the same for every engine that has it. */
export interface StationInfo {
  readonly id: StationId
  readonly label: string
  /** Short questions of the free look, cheapest and likeliest first. */
  readonly looks: readonly string[]
  /** Relative chance that air comes in here, before anything is known, when the zone leaks. */
  readonly leakWeight: number
  readonly reason: string
  /** A supple rubber branch that can be pinched or unplugged and capped. */
  readonly pinchable: boolean
  readonly lookMinutes: number
}

const s = (
  id: StationId,
  label: string,
  leakWeight: number,
  pinchable: boolean,
  lookMinutes: number,
  looks: readonly string[],
  reason: string,
): StationInfo => ({
  id,
  label,
  leakWeight,
  pinchable,
  lookMinutes,
  looks,
  reason,
})

/** Stations that every engine has once. Weights are ours: how often a shop finds air let in there, hoses before hard parts. */
const SINGLE: readonly StationInfo[] = [
  s(
    'inlet',
    'inlet',
    0,
    false,
    0.5,
    ['Snorkel in place and clear'],
    'before the sensor: air let in here is still metered',
  ),
  s(
    'resonator',
    'resonator',
    0,
    false,
    0.5,
    ['Seated, no crack, drain free'],
    'before the sensor: air let in here is still metered',
  ),
  s(
    'filter',
    'filter',
    0,
    false,
    1.5,
    ['Box seated, all clips shut', 'Element: loaded, wet or oily', 'Dust past the seal'],
    'dust on the clean side means air goes round the element',
  ),
  s(
    'airflow-sensor',
    'airflow sensor',
    0.3,
    false,
    0.5,
    ['Connector clicked, arrow with the flow', 'Film or debris on the element'],
    'its seal to the pipe is small; a clean look is weak evidence',
  ),
  s(
    'duct',
    'duct',
    3,
    false,
    1,
    ['On its stubs, both clamps there and tight', 'Split in the bends and corrugations', 'Oil-soft or collapsed'],
    'the longest rubber part, flexed by the engine',
  ),
  s(
    'compressor',
    'compressor',
    0.5,
    false,
    1,
    ['Inlet pipe on, oil film no more than light'],
    'seals well unless the pipe is off',
  ),
  s(
    'intercooler',
    'intercooler',
    1,
    false,
    1,
    ['Oily streak at a joint or end tank'],
    'end tanks and clamps, oil marks the place',
  ),
  s(
    'boost-pipe',
    'boost pipe',
    2,
    false,
    1,
    ['Clamps tight, no oily fan of dirt', 'Split under a clamp'],
    'pressure opens what suction closes',
  ),
  s(
    'throttle',
    'throttle',
    1,
    false,
    1,
    [
      'Ring of deposit at the plate edge',
      'Gasket face dry of dirt streaks',
      'Cable: a little slack, opens fully, returns freely',
    ],
    'gasket and shaft seals age slowly',
  ),
  s(
    'idle-valve',
    'idle valve',
    1.5,
    true,
    0.5,
    ['Hoses on both nipples', 'Connector clicked'],
    'a rubber bypass hose, and its gasket',
  ),
  s('plenum', 'plenum', 0.7, false, 1, ['Cracks, caps on unused nipples'], 'hard part; caps go missing'),
  s(
    'map-sensor',
    'pressure sensor',
    0.6,
    true,
    0.5,
    ['Seated with its seal, connector clicked'],
    'one small o-ring or one short hose',
  ),
  s(
    'pcv',
    'crankcase vent',
    3,
    true,
    1,
    ['Hoses on, no oil-soft elbow', 'Oil filler cap and dipstick seated'],
    'oil-soft elbows split first; a torn diaphragm lets air through the crankcase',
  ),
  s('purge', 'purge valve', 1, true, 0.5, ['Hose on both ends'], 'thin hose, stuck valve'),
  s(
    'booster',
    'booster hose',
    2,
    true,
    0.5,
    ['Hose on at both ends, check valve seated'],
    'thick hose under constant vacuum, grommet dries out',
  ),
  s('egr', 'EGR valve', 0.8, false, 1, ['Gasket streaks, vacuum hose on'], 'gasket burns, rarely'),
  s(
    'vacuum-lines',
    'vacuum lines',
    2,
    true,
    1,
    ['Split ends, missing caps, wrong nipple'],
    'many thin ends, disturbed by every earlier job',
  ),
  s(
    'gaskets',
    'manifold joint',
    1.5,
    false,
    1,
    ['Dirt streaks along the joint, loose fasteners'],
    'long joint, heat cycles; one bank may lean alone',
  ),
  s('runners-1', 'runners, bank 1', 0.3, false, 0.5, ['Injector seals, cracks'], 'injector seals harden'),
  s('runners-2', 'runners, bank 2', 0.3, false, 0.5, ['Injector seals, cracks'], 'injector seals harden'),
  s(
    'intake-temperature',
    'air temp sensor',
    0.2,
    false,
    0.5,
    ['Seated with its seal, connector clicked'],
    'a push-in seal; one that hangs loose reads the bonnet, not the air',
  ),
  s(
    'charge-sensor',
    'charge sensor',
    0.4,
    true,
    0.5,
    ['Seated with its seal, connector clicked'],
    'one small o-ring, under pressure at load',
  ),
  s(
    'throttle-flap',
    'throttle flap',
    0.5,
    false,
    1,
    ['Moves freely, soot not holding it', 'Gasket face dry of soot streaks'],
    'a diesel needs it to stop softly and to draw exhaust gas, not to run',
  ),
  s(
    'separator',
    'oil separator',
    1.2,
    false,
    1.5,
    ['Housing whole, hoses on, no oil beneath it', 'Diaphragm draws lightly, no steady whistle'],
    'hard plastic and a thin diaphragm: a tear lets air through the crankcase',
  ),
  s(
    'egr-cooler',
    'EGR cooler',
    0.2,
    false,
    1,
    ['Dry outside, no white crust'],
    'coolant on one side, soot on the other',
  ),
  s(
    'egr-tube',
    'EGR tube',
    0.3,
    false,
    1,
    ['Clamps tight, no soot fan at a joint'],
    'hot joints blow soot when they open',
  ),
  s(
    'flaps',
    'manifold flaps',
    0.6,
    false,
    1,
    ['Actuator rod on, moves full stroke', 'Shaft ends dry of oil'],
    'shaft bushes wear; a rod that hops off leaves them where they are',
  ),
  s(
    'fresh-air-hose',
    'fresh-air hose',
    1,
    true,
    0.5,
    ['On at both ends, not split'],
    'lets clean air into the crankcase',
  ),
  s(
    'regulator-line',
    'regulator line',
    0.8,
    true,
    0.5,
    ['On at both ends, dry of fuel inside'],
    'a torn diaphragm draws fuel through it',
  ),
  s(
    'heater-line',
    'heater line',
    0.9,
    true,
    0.5,
    ['On, leads to a whole reservoir'],
    'thin line behind the dash, rarely looked at',
  ),
  s('cruise-line', 'cruise line', 0.7, true, 0.5, ['On at actuator and reservoir'], 'old rubber bellows'),
  s(
    'boost-control-line',
    'boost control line',
    0.8,
    true,
    0.5,
    ['On at valve and actuator, not chafed'],
    'hot, thin, and under pressure',
  ),
  s(
    'idle-up-valve',
    'idle-up valve',
    0.8,
    true,
    0.5,
    ['Hoses on, connector clicked'],
    'a bypass for steering or air conditioning',
  ),
  s(
    'secondary-air',
    'secondary air',
    0.4,
    true,
    0.5,
    ['Vacuum line on, check valve dry'],
    'its check valve burns, then its line',
  ),
]

/** What is tested and mended beyond the air path; on no engine's path, so on no drawing of it. */
const BEYOND = s(
  'beyond',
  'beyond the air path',
  0,
  false,
  0,
  [],
  'fuel, ignition, sensors, exhaust and the engine itself: told here, so that the intake is left alone',
)

/** Every station in the order of the air; those of a second inlet after those of the first, then what is beyond the path. */
export const STATIONS: readonly StationInfo[] = [
  ...SINGLE,
  ...DOUBLED.map((d): StationInfo => {
    const first = SINGLE.find((x) => x.id === d)!
    return { ...first, id: `${d}-2`, label: `${first.label} 2` }
  }),
  BEYOND,
]

/** A station's data by id. @throws RangeError on an unknown id */
export function stationInfo(id: string): StationInfo {
  const found = STATIONS.find((x) => x.id === id)
  if (!found) throw new RangeError(`no station "${id}"`)
  return found
}

/** A station as it stands in a sentence: at the filter, beyond the air path. */
export const atStation = (id: string): string => (id === BEYOND.id ? BEYOND.label : `at the ${stationInfo(id).label}`)
