import { airPathOf, inletsOf, kindOfStation, stationInfo, type StationId, type Vehicle } from '../engine/index.js'
import type { FeedRefusal } from './refusal.js'
import { inOneInlet, isAhead, sharingAt } from './sharing.js'

/** Parts that no liquid is let in at, with the reason: they are no opening into the intake, or what it wets is hurt. */
const NO_OPENING: readonly string[] = [
  'intake-temperature',
  'charge-sensor',
  'separator',
  'egr-cooler',
  'egr-tube',
  'secondary-air',
  'boost-control-line',
  'fresh-air-hose',
  'gaskets',
]

/** Why nothing is fed at a point of this engine; empty where nothing forbids it. */
export function pointRefusals(v: Vehicle, point: StationId, together = false): FeedRefusal[] {
  const out: FeedRefusal[] = []
  const no = (rule: string, message: string): void => void out.push({ rule, message })
  const kind = kindOfStation(point)
  if (!airPathOf(v).stations.some((s) => s.info.id === point))
    return [{ rule: 'no-such-point', message: `This engine has no ${stationInfo(point).label}: no feed there.` }]
  if (together && !inOneInlet(v, point))
    no(
      'together',
      inletsOf(v) === 2
        ? `Two inlets are fed together at their ducts or throttles, not at the ${stationInfo(point).label}.`
        : 'This engine has one inlet: nothing to feed together.',
    )
  if (['inlet', 'resonator', 'filter', 'airflow-sensor'].includes(kind))
    no(
      'ahead-of-airflow-sensor',
      'Nothing is fed ahead of the airflow sensor: it films the element. Feed between sensor and plate, or at a port.',
    )
  if (
    v.induction === 'turbo' &&
    ['inlet', 'resonator', 'filter', 'airflow-sensor', 'duct', 'compressor', 'intercooler'].includes(kind)
  )
    no(
      'ahead-of-compressor',
      'Nothing is fed ahead of the compressor or the intercooler: loosened lumps hit the wheel, liquid pools. Feed behind the intercooler.',
    )
  if (v.feedPoints?.length && !v.feedPoints.includes(point))
    no(
      'not-a-feed-point',
      `This engine is fed at: ${v.feedPoints.map((p) => stationInfo(p as StationId)?.label ?? p).join(', ')}.`,
    )
  if (NO_OPENING.includes(kind))
    no('no-opening', `The ${stationInfo(point).label} is no opening to feed at: a port, a nipple or the duct is.`)
  return out
}

/** Whether the plate of an engine is one that no solvent may reach: coated, or by its own label. */
export const isPlateSpared = (v: Vehicle): boolean =>
  v.coatedBore === true || v.doNotClean?.some((id) => kindOfStation(id) === 'throttle') === true

/** One point that this engine can be fed at. */
export interface FeedPoint {
  readonly point: StationId
  readonly label: string
  readonly ahead: boolean
  /** Share of the worst-placed cylinder [–], and why. */
  readonly worst: number
  readonly words: string
  readonly reaches: string
}

const reachOf = (v: Vehicle, point: StationId): string =>
  isAhead(point)
    ? 'plate, plenum, runners, ports'
    : kindOfStation(point).startsWith('runners')
      ? 'one runner and its valves'
      : v.plenum === 'individual'
        ? 'its own runner and valves'
        : 'plenum, runners, ports; not the plate'

/** Points of this engine that may be fed, the most even first; of alike ones that which reaches more, and what is to spare the plate before what reaches it. */
export function feedPointsOf(v: Vehicle, together = false): FeedPoint[] {
  return airPathOf(v)
    .stations.filter(({ info }) => !pointRefusals(v, info.id, together).length)
    .map(({ info }) => {
      const { worst, words } = sharingAt(v, info.id, together)
      return { point: info.id, label: info.label, ahead: isAhead(info.id), worst, words, reaches: reachOf(v, info.id) }
    })
    .sort(
      (a, b) =>
        (isPlateSpared(v) ? Number(a.ahead) - Number(b.ahead) : 0) ||
        a.worst - b.worst ||
        Number(b.ahead) - Number(a.ahead),
    )
}
