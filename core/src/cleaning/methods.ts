import { surfaceInfo, type SurfaceId } from './surfaces.js'

/** Ways to clean; what each reaches and does not. */
export interface MethodInfo {
  readonly id: MethodId
  readonly label: string
  readonly feeds: boolean
  readonly reaches: readonly string[]
  readonly misses: readonly string[]
  /** w [–]: share of the liquid that lands as film. */
  readonly wetShare: number
  /** Liquid the equipment can pass [mL/s]. */
  readonly rateMlS: number
  /** Share of one cylinder times their number, worst placed [–]: 1 is even. */
  readonly worstShare: number
  readonly soakMinutes: number
  /** Fed ahead of the plate, or into a port behind it; either where left out. */
  readonly at?: 'ahead' | 'port'
  /** Takes one kind of product only. */
  readonly only?: 'combustible' | 'water'
  /** Where the hands are, and who stands where. */
  readonly hands?: string
  /** What the engine does meanwhile. */
  readonly engineDoes?: string
  /** What alone stops it, at any moment. */
  readonly stoppedBy?: string
  /** Order of closing down. */
  readonly closeDown?: readonly string[]
}

export type MethodId =
  | 'cloth-in-place'
  | 'off-the-car'
  | 'plate-commanded'
  | 'ports-open'
  | 'aerosol-ahead-of-plate'
  | 'metered-port'
  | 'mist-raised-idle'
  | 'syringe-bleed'
  | 'gravity-bleed'
  | 'canister'
  | 'drip-line'
  | 'water-mist'

const byHand = (id: MethodId, label: string, reaches: readonly string[], misses: readonly string[]): MethodInfo => ({
  id,
  label,
  feeds: false,
  reaches,
  misses,
  wetShare: 0,
  rateMlS: 0,
  worstShare: 1,
  soakMinutes: 0,
})

/** Wet shares: 0.6 straw, 0.9 open hose, 0.3 mist; rates and soaks are ours, the label wins. */
export const METHODS: readonly MethodInfo[] = [
  byHand(
    'cloth-in-place',
    'cloth in place',
    ['plate edge', 'front of the bore'],
    ['back of the plate', 'idle passage', 'valves'],
  ),
  byHand(
    'off-the-car',
    'off the car',
    ['both faces of the plate', 'its edge and seat', 'idle passage'],
    ['manifold', 'valves'],
  ),
  byHand(
    'ports-open',
    'in the head, manifold off',
    ['ports', 'valve stems and tulips', 'valves'],
    ['chambers', 'exhaust side'],
  ),
  byHand(
    'plate-commanded',
    'in place, plate opened by command',
    ['plate edge', 'bore', 'back of the plate, partly'],
    ['idle passage', 'valves'],
  ),
  {
    id: 'aerosol-ahead-of-plate',
    label: 'aerosol and straw, ahead of the plate',
    feeds: true,
    at: 'ahead',
    reaches: ['plate', 'plenum floor', 'runners', 'port-injected valves, partly'],
    misses: ['valves behind direct injection, mostly', 'EGR passage'],
    wetShare: 0.6,
    rateMlS: 1.2,
    worstShare: 1.15,
    soakMinutes: 15,
    hands: 'one hand on the can at the duct, sleeve clear of belts; a second person holds the speed',
    engineDoes: 'dips at each shot, white smoke',
    stoppedBy: 'the finger off the can',
    closeDown: ['can away', 'straw counted out', 'duct back on its stub, clamp tight', 'engine off, soak'],
  },
  {
    id: 'metered-port',
    label: 'metered, into a central port',
    feeds: true,
    at: 'port',
    reaches: ['plenum', 'runners', 'valves, partly'],
    misses: ['plate', 'far runner ends', 'EGR passage'],
    wetShare: 0.9,
    rateMlS: 0.8,
    worstShare: 1.35,
    soakMinutes: 20,
    hands: 'machine beside the wing, hose led clear of exhaust and belts; a second person holds the speed',
    engineDoes: 'dips at each shot, idles higher by the air of its hose',
    stoppedBy: 'its valve',
    closeDown: ['valve shut', 'engine off', 'hose off its port, port capped or its own hose back on', 'soak'],
  },
  {
    id: 'mist-raised-idle',
    label: 'mist at a raised idle, ahead of the plate',
    feeds: true,
    at: 'ahead',
    reaches: ['plate', 'runners', 'port-injected valves, partly'],
    misses: ['valves behind direct injection, mostly', 'plenum floor', 'EGR passage'],
    wetShare: 0.3,
    rateMlS: 0.5,
    worstShare: 1.15,
    soakMinutes: 10,
    hands: 'nozzle held at the duct; a second person holds the speed',
    engineDoes: 'runs uneven all the while, little smoke',
    stoppedBy: 'the trigger let go',
    closeDown: ['trigger let go', 'nozzle out and counted', 'duct back on its stub, clamp tight', 'engine off, soak'],
  },
  {
    id: 'syringe-bleed',
    label: 'syringe, air bleed under the thumb',
    feeds: true,
    at: 'port',
    reaches: ['plenum', 'runners', 'valves, partly'],
    misses: ['plate', 'far runner ends', 'EGR passage'],
    wetShare: 0.9,
    rateMlS: 0.5,
    worstShare: 1.8,
    soakMinutes: 20,
    hands: 'one hand on the plunger, the thumb of the other on the bleed; a second person holds the speed',
    engineDoes: 'dips at each push; speeds up while the bleed is open',
    stoppedBy: 'the thumb off the bleed: air comes instead of liquid',
    closeDown: ['thumb off the bleed', 'hose off, its own hose back on', 'engine off, soak'],
  },
  {
    id: 'gravity-bleed',
    label: 'gravity bottle, air bleed under the thumb',
    feeds: true,
    at: 'port',
    reaches: ['plenum', 'runners', 'valves, partly'],
    misses: ['plate', 'far runner ends', 'EGR passage'],
    wetShare: 0.9,
    rateMlS: 0.4,
    worstShare: 1.8,
    soakMinutes: 20,
    hands: 'bottle hung above the port, thumb on the bleed; a second person holds the speed',
    engineDoes: 'dips while the bleed is shut; speeds up while it is open',
    stoppedBy: 'the bottle lowered below the port, or its tap',
    closeDown: ['tap shut, bottle down', 'hose off, its own hose back on', 'engine off, soak'],
  },
  {
    id: 'canister',
    label: 'pressurised canister, regulator and nozzle',
    feeds: true,
    reaches: ['plate', 'plenum', 'runners', 'port-injected valves, partly'],
    misses: ['valves behind direct injection, mostly', 'EGR passage'],
    wetShare: 0.3,
    rateMlS: 1,
    worstShare: 1.2,
    soakMinutes: 15,
    only: 'combustible',
    hands: 'canister upright and away from heat, hand on its valve; a second person holds the speed',
    engineDoes: 'dips as the valve opens; manifold vacuum feeds on at regulator zero',
    stoppedBy: 'its valve, and nothing else: at regulator zero the vacuum alone still feeds',
    closeDown: ['valve shut', 'engine off', 'regulator to zero', 'air off', 'bled', 'removed', 'soak'],
  },
  {
    id: 'drip-line',
    label: 'drip into a vacuum line',
    feeds: true,
    at: 'port',
    reaches: ['the runners next to the line'],
    misses: ['far runners', 'plate', 'EGR passage'],
    wetShare: 0.9,
    rateMlS: 0.15,
    worstShare: 2.5,
    soakMinutes: 20,
    hands: 'line led into the bottle, thumb ready to lift it out; a second person holds the speed',
    engineDoes: 'stumbles as drops come in a row',
    stoppedBy: 'the line lifted out of the bottle',
    closeDown: ['line out of the bottle', 'line back on its nipple', 'engine off, soak'],
  },
  {
    id: 'water-mist',
    label: 'water as mist, ahead of the plate',
    feeds: true,
    at: 'ahead',
    reaches: ['chambers', 'valve heads'],
    misses: ['plenum', 'runners', 'valve stems', 'EGR passage'],
    wetShare: 0.3,
    rateMlS: 0.5,
    worstShare: 1.15,
    soakMinutes: 0,
    only: 'water',
    hands: 'mister held at the duct; a second person holds the speed',
    engineDoes: 'softer, steam at the tailpipe',
    stoppedBy: 'the trigger let go',
    closeDown: [
      'trigger let go',
      'mister out and counted',
      'duct back on its stub, clamp tight',
      'run on for some minutes',
    ],
  },
]

export const methodInfo = (id: MethodId): MethodInfo => METHODS.find((m) => m.id === id)!

/** A way to clean as it is told of a surface: what no cloth may touch is sprayed where it is. */
export const wayOn = (id: MethodId, surface: SurfaceId): string =>
  id === 'cloth-in-place' ? (surfaceInfo(surface).inPlace?.label ?? 'in place') : methodInfo(id).label

/**
 * Ways to clean a surface by hand: a port and its face stay in the head, a plate with a motor can be opened by command, and what
 * has to be soaked, flushed or moved by hand comes off.
 */
export const waysByHand = (surface: SurfaceId, commanded: boolean): readonly MethodInfo[] =>
  METHODS.filter((m) => {
    if (m.feeds) return false
    const inHead = surface === 'intake-valves' || surface === 'gasket-face'
    if (inHead || m.id === 'ports-open') return inHead && m.id === 'ports-open'
    if (m.id === 'cloth-in-place') return surfaceInfo(surface).inPlace !== undefined
    return m.id !== 'plate-commanded' || (commanded && surface.startsWith('throttle-'))
  })
