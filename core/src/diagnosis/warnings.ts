import type { Evidence } from './evidence.js'
import { MISFIT, tellsOfAir } from './ranked.js'
import { hasMaf, hasMap, type Vehicle, trimBanksOf } from '../engine/index.js'
import type { DeadSensor } from './deadSensors.js'
import { boostDoubt } from './boostDoubt.js'
import { engineDoubt } from './engineDoubt.js'
import type { EngineOffDoubt } from './engineOff.js'
import type { HeightDoubt } from './heightDoubt.js'
import type { ObservationSet } from './observations.js'
import type { Posterior } from './posterior.js'
import { unitDoubt } from './unitDoubt.js'

/** What stands in the way of a sure answer, or cannot be used, with what to measure. */
export interface DiagnosisWarning {
  readonly code:
    | 'none-of-these-explains-it'
    | 'nothing-to-judge'
    | 'no-trims'
    | 'no-map-or-gauge'
    | 'one-point'
    | 'trim-at-its-stop'
    | 'bank-not-here'
    | 'channel-not-here'
    | 'sensor-dead'
    | 'engine-off'
    | 'little-boost'
    | 'height-doubtful'
    | 'unit-doubtful'
    | 'engine-doubtful'
  readonly message: string
  /** What is to be done about it first, where that is one thing. */
  readonly act?: string
  /** Why, in a line, where the message is longer than that. */
  readonly why?: string
  /** What of it is a finding, as the customer reads it. */
  readonly said?: string
}

/** Whether nothing that was read tells one cause from another. */
export const tellsNothing = (d: { readonly warnings: readonly DiagnosisWarning[] }): boolean =>
  d.warnings.some((w) => w.code === 'nothing-to-judge')

/** Whether what was read fits neither a sound engine nor any cause. */
export const fitsNothing = (d: { readonly warnings: readonly DiagnosisWarning[] }): boolean =>
  d.warnings.some((w) => w.code === 'none-of-these-explains-it')

const GRAVE: readonly DiagnosisWarning['code'][] = [
  'sensor-dead',
  'height-doubtful',
  'unit-doubtful',
  'engine-doubtful',
  'none-of-these-explains-it',
]
/** Whether a warning puts the ranking beside it in doubt. */
export const isGrave = (w: DiagnosisWarning): boolean => GRAVE.includes(w.code)

/** What is said of sensors that cannot be telling of this running engine, or of this place. */
export const deadSaid = (d: { readonly warnings: readonly DiagnosisWarning[] }): readonly string[] =>
  d.warnings.flatMap((w) => (w.said ? [w.said] : []))

/** From here the pressure sensor is more likely off than not, and nothing is told of boost by it [–]. */
const PRESSURE_OFF = 0.5

/** Everything that must be said beside a ranking. */
export function warningsOf(
  p: Posterior,
  set: ObservationSet,
  v: Vehicle,
  dead: readonly DeadSensor[],
  off: readonly EngineOffDoubt[],
  height?: HeightDoubt,
  dies?: Evidence['dies'],
): DiagnosisWarning[] {
  const out: DiagnosisWarning[] = [
    ...(height
      ? [
          {
            code: 'height-doubtful',
            act: height.act,
            why: height.why,
            said: height.said,
            message: height.message,
          } as const,
        ]
      : []),
    ...dead.map(({ act, said, message }) => ({ code: 'sensor-dead', act, said, message }) as const),
    ...off.map((doubt) => ({ code: 'engine-off', ...doubt }) as const),
  ]
  const boost = (p.marginal.get('map-sensor-offset') ?? 0) < PRESSURE_OFF ? boostDoubt(set.points, v) : undefined
  if (boost) out.push({ code: 'little-boost', ...boost })
  const any = tellsOfAir(p, set)
  const read = (id: 'gauge_vacuum_kpa' | 'map_kpa' | 'maf_gs' | 'trim2_pct'): boolean =>
    set.points.some((x) => x.means[id] !== undefined)
  const warn = (code: DiagnosisWarning['code'], message: string): void => void out.push({ code, message })
  const unit = unitDoubt(set.points, v)
  if (unit) warn('unit-doubtful', unit)
  const engine = engineDoubt(set.points, v)
  if (engine) warn('engine-doubtful', engine)
  if (!any)
    warn(
      'nothing-to-judge',
      v.fuel === 'diesel'
        ? 'A diesel’s airflow tells nothing while exhaust gas is mixed in: what is shown rests on how often each cause comes, on codes, signs and looks. The air it takes with the valve shut tells more.'
        : 'No reading here can be judged yet: what is shown rests on how often each cause comes, on codes, signs and looks.',
    )
  if (p.unexplained > MISFIT)
    warn(
      'none-of-these-explains-it',
      'None of the causes weighed here explains these readings. Check the readings first, then look outside the list.',
    )
  if (any && v.fuel === 'gasoline' && !set.observations.some((o) => o.group === 'trims'))
    warn('no-trims', 'No fuel trims: air let in and fuel missing cannot be told apart.')
  if (any && v.metering === 'maf' && !read('gauge_vacuum_kpa') && !read('map_kpa'))
    warn('no-map-or-gauge', 'No manifold pressure: a gauge reading would narrow the expected airflow.')
  const running = new Set(set.points.filter((x) => x.kind !== 'key-on').map((x) => x.kind))
  if (
    any &&
    v.fuel === 'gasoline' &&
    running.size === 1 &&
    set.points.filter((x) => x.kind !== 'key-on').length === 1
  ) {
    const another = running.has('idle') ? 'A hold at 2500 rpm' : dies ? 'Another speed' : 'A warm idle'
    warn('one-point', `Only one operating point. ${another} beside it tells faults apart that look alike here.`)
  }
  const byTrim = set.observations.filter((o) => o.group === 'trims')
  const bound = byTrim.filter((o) => o.bound !== undefined).length
  if (bound)
    warn(
      'trim-at-its-stop',
      bound < byTrim.length
        ? 'A trim stands at its stop: the true error there is at least that, and may be more. The size rests on the other readings.'
        : 'Every trim stands at its stop: the true error is at least that, and may be more. What it tells of a size is a bound.',
    )
  if (trimBanksOf(v) === 1 && read('trim2_pct'))
    warn(
      'bank-not-here',
      'Trims of a second bank were read; this engine is entered with one. They are left aside: check the vehicle.',
    )
  if (!hasMaf(v) && read('maf_gs'))
    warn(
      'channel-not-here',
      'An airflow was read; this engine is entered without an airflow sensor. It is left aside: check the vehicle.',
    )
  if (!hasMap(v) && read('map_kpa'))
    warn(
      'channel-not-here',
      'A manifold pressure was read; this engine is entered without a sensor of it. It is left aside: check the vehicle.',
    )
  return out
}
