import { methodInfo, surfaceInfo, type MethodId, type SurfaceId } from '../cleaning/index.js'
import type { Vehicle } from '../engine/index.js'
import { feedsOf } from './afterFeed.js'
import { live, type VisitFile } from './records.js'
import { stateOfRun } from './runs.js'

/** Surfaces where deposits sit; a sensor or a hose that is cleaned says nothing of what else was not reached. */
const ON_THE_WAY_OF_DEPOSITS: readonly SurfaceId[] = [
  'throttle-plate',
  'throttle-coated',
  'idle-valve',
  'idle-passage',
  'manifold-aluminium',
  'manifold-plastic',
  'manifold-flaps',
  'intake-valves',
]

/** A place that a method names, as this engine has it; undefined where it has none. */
function placeOf(words: string, v: Vehicle): { readonly place: string; readonly partly: boolean } | undefined {
  const partly = /, (partly|mostly)$/.test(words)
  const place = words.replace(/, (partly|mostly)$/, '')
  if (place === 'port-injected valves') return v.injection === 'port' ? { place: 'valves', partly } : undefined
  if (place === 'valves behind direct injection')
    return v.injection === 'direct' ? { place: 'valves', partly } : undefined
  if (place === 'EGR passage' && v.egr === 'none') return undefined
  return { place, partly }
}

/** Places that are the same to a customer: the manifold is reached where its plenum or its runners are. */
const WITHIN: Readonly<Record<string, readonly string[]>> = {
  manifold: ['plenum', 'runners', 'plenum floor'],
  plate: ['plate edge', 'both faces of the plate'],
  'back of the plate': ['both faces of the plate'],
}

/** Surfaces that a customer knows by their place. */
const AS_A_PLACE: Readonly<Partial<Record<SurfaceId, string>>> = {
  'manifold-aluminium': 'manifold',
  'manifold-plastic': 'manifold',
  'idle-passage': 'idle passage',
}

/** What the work of a visit reached, in part, and not: of what was fed, and of surfaces where deposits sit. */
export function reachedLines(f: VisitFile): { readonly done: readonly string[]; readonly left: readonly string[] } {
  const v = f.vehicle.spec
  const steps = live(f.steps).filter((s) => s.passed && !s.againstRule && ON_THE_WAY_OF_DEPOSITS.includes(s.surface))
  const whole = new Set<string>()
  const partly = new Set<string>()
  const missed = new Set<string>()
  const take = (method: MethodId, whether: 'whole' | 'begun' = 'whole'): void => {
    const m = methodInfo(method)
    for (const [list, into] of [
      [m.reaches, whole],
      [m.misses, missed],
    ] as const)
      for (const words of list) {
        const p = placeOf(words, v)
        if (p) (into === whole && (p.partly || whether === 'begun') ? partly : into).add(p.place)
      }
  }
  for (const s of steps) {
    // how it was cleaned tells of a throttle and of the ports; another surface is reached and tells of itself alone
    if (s.surface === 'throttle-plate' || s.surface === 'intake-valves') take(s.method)
    // a coated bore is wiped at the edge and left alone elsewhere
    else if (s.surface === 'throttle-coated') whole.add('plate edge')
    else whole.add(AS_A_PLACE[s.surface] ?? surfaceInfo(s.surface).label)
  }
  for (const r of feedsOf(f)) take(r.feed!.method, stateOfRun(f, r)?.status === 'passed' ? 'whole' : 'begun')
  const reached = (place: string): boolean =>
    whole.has(place) || partly.has(place) || (WITHIN[place] ?? []).some((x) => whole.has(x) || partly.has(x))
  const inPart = [...partly].filter((p) => !whole.has(p))
  const not = [...missed].filter((p) => !reached(p))
  if (whole.has('plate')) whole.delete('plate edge')
  const told = [
    ...(whole.size ? [`Reached: ${[...whole].join(', ')}`] : []),
    ...(inPart.length ? [`in part: ${inPart.join(', ')}`] : []),
  ]
  return {
    done: told.length ? [`${cap(told.join('; '))}.`] : [],
    left: not.length ? [`Not reached: ${not.join(', ')}.`] : [],
  }
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
